import type { ReactNode } from 'react';
import { INPUT } from '../../../kit/field.tsx';

/** Fields of what is wanted, in a row. */
export const Fields = ({ children }: { children: ReactNode }) => (
  <div className="flex flex-wrap items-center gap-x-2 gap-y-1" role="group" aria-label="What is wanted">
    {children}
  </div>
);

interface FieldProps {
  readonly label: string;
  readonly value: number;
  readonly least?: number;
  readonly onChange: (value: number) => void;
}

/** A whole number with its label. What is no number yet changes nothing. */
export function NumberField({ label, value, least, onChange }: FieldProps) {
  return (
    <label className="text-xs text-graphite">
      {label}{' '}
      <input
        type="number"
        className={`frame-number ${INPUT} !min-h-6 !w-14 !px-1`}
        value={value}
        {...(least !== undefined && { min: least })}
        onChange={(event) => {
          const next = Math.round(Number(event.target.value));
          if (event.target.value !== '' && Number.isFinite(next)) onChange(Math.max(least ?? -10_000, next));
        }}
      />
    </label>
  );
}

interface FramesProps {
  readonly from: { readonly label: string; readonly value: number };
  readonly to: number;
  readonly onChange: (labels: { from: number; to: number }) => void;
}

/** From one frame to another; the one that is not typed gives way. */
export function FramesFields({ from, to, onChange }: FramesProps) {
  return (
    <>
      <NumberField
        label={from.label}
        value={from.value}
        onChange={(first) => onChange({ from: first, to: Math.max(first, to) })}
      />
      <NumberField
        label="to"
        value={to}
        onChange={(last) => onChange({ from: Math.min(from.value, last), to: last })}
      />
    </>
  );
}

/** How signs of kinds are drawn. */
export const STROKE = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.6, strokeLinecap: 'round' as const };
