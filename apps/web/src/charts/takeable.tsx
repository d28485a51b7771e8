import { ImageDown } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import { attempt } from '../api/attempt.ts';
import { Button } from '../kit/button.tsx';
import { svgFile } from '../kit/picture-of.ts';
import { saveBlob } from '../kit/save-text.ts';

/** A chart that can be taken away as it is seen (SVG, with its fonts inside). @param name of the file, without its ending */
export function Takeable({ name, children }: { name: string; children: ReactNode }) {
  const around = useRef<HTMLDivElement>(null);
  const take = (): void =>
    void attempt(async () => {
      const chart = around.current!.querySelector('svg[role="img"]')!;
      saveBlob(new Blob([await svgFile(chart)], { type: 'image/svg+xml' }), `${name}.svg`);
    });
  return (
    <div ref={around}>
      {children}
      <Button look="quiet" className="!min-h-6 text-xs" onClick={take}>
        <ImageDown size={13} aria-hidden /> As a picture (SVG)
      </Button>
    </div>
  );
}
