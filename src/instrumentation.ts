/** Called once when the server starts: opens the workspace, so that migrations, sweeps and waiting jobs run at once. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME === 'nodejs') {
    const { workspace } = await import('./server/workspace');
    workspace();
  }
}
