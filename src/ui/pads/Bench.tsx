'use client';

import dynamic from 'next/dynamic';
import { useMedia } from '../parts/use-media';
import { KitDock } from './KitDock';
import { useKitDesk } from './kit-context';

const Picker = dynamic(() => import('../picker/Picker').then((m) => m.Picker), { ssr: false });

/** Default height of a page's foot in CSS pixels; higher windows have room for more. */
export function useUsualBenchHeight(): number {
  return useMedia('(min-height: 960px)') ? 320 : 240;
}

/** The foot of a page: the docked pads, and beside them the picker where it is open, else the page's own content. */
export function Bench({ children, height }: { children?: React.ReactNode; height?: number }) {
  const { picker } = useKitDesk();
  const usual = useUsualBenchHeight();
  const beside = picker ? <Picker /> : children;
  return (
    <div className="flex flex-none overflow-hidden border-t border-line bg-paper" style={{ height: height ?? usual }}>
      {beside && <div className="flex min-h-0 w-1/2">{beside}</div>}
      <div className={beside ? 'w-1/2' : 'w-full'}>
        <KitDock />
      </div>
    </div>
  );
}
