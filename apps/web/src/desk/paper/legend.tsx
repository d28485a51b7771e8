import type { ReactNode } from 'react';
import type { LegendEntry } from '../lenses/lens.ts';

/** What the signs of the lenses that are on mean, and how often each is there. */
export function Legend({ entries, children }: { entries: readonly LegendEntry[]; children?: ReactNode }) {
  return (
    <div className="absolute top-7 left-2 flex max-w-56 flex-col items-start gap-1">
      {entries.length > 0 && <Entries entries={entries} />}
      {children}
    </div>
  );
}

function Entries({ entries }: { entries: readonly LegendEntry[] }) {
  return (
    <ul
      className="pointer-events-none flex flex-col gap-0.5 rounded-md bg-sheet/85 px-1.5 py-1 text-xs"
      data-testid="path-legend"
    >
      {entries.map(({ text, sign, dashed }) => (
        <li key={text} className="flex items-start gap-1.5">
          {sign && (
            <svg width="14" height="14" className="mt-px shrink-0" aria-hidden>
              <path
                d={sign}
                fill="none"
                stroke="currentColor"
                strokeWidth="1.5"
                {...(dashed && { strokeDasharray: '3 2' })}
              />
            </svg>
          )}
          {text}
        </li>
      ))}
    </ul>
  );
}
