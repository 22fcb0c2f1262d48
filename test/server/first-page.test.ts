import { build } from 'esbuild';

// What every page loads first must stay small: schemas, the kernel and the computation of treatments come later, in workers or
// with the page that needs them.
test('the first page loads no schemas, no kernel and no computation of treatments', async () => {
  const { metafile } = await build({
    entryPoints: ['src/app/layout.tsx', 'src/app/recordings/page.tsx'],
    bundle: true,
    write: false,
    splitting: true,
    metafile: true,
    outdir: 'dist/first-page',
    format: 'esm',
    jsx: 'automatic',
    external: ['next/*', 'react', 'react-dom', '*.css'],
    logLevel: 'silent',
  });
  const reached = new Set<string>();
  const follow = (file: string) => {
    if (reached.has(file)) return;
    reached.add(file);
    for (const { path, kind } of metafile.inputs[file]?.imports ?? []) if (kind !== 'dynamic-import') follow(path);
  };
  follow('src/app/layout.tsx');
  follow('src/app/recordings/page.tsx');
  expect(reached.size).toBeGreaterThan(200);
  const heavy = /node_modules\/zod\/|core\/kernel\/|core\/live\/(?!figures|limits|room-size)|core\/onset\/detect/;
  expect([...reached].filter((file) => heavy.test(file))).toEqual([]);
});
