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

interface AmountProps extends Omit<FieldProps, 'least'> {
  readonly unit: string;
  readonly step: number;
}

/** A number with its unit, which may have parts. What is no number yet changes nothing. */
export function AmountField({ label, value, unit, step, onChange }: AmountProps) {
  return (
    <label className="text-xs text-graphite">
      {label}{' '}
      <input
        type="number"
        step={step}
        className={`frame-number ${INPUT} !min-h-6 !w-16 !px-1`}
        value={value}
        onChange={(event) => {
          const next = Number(event.target.value);
          if (event.target.value !== '' && Number.isFinite(next)) onChange(next);
        }}
      />{' '}
      {unit}
    </label>
  );
}

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (readonly [value: T, text: string])[];
  readonly onChange: (value: T) => void;
}

/** One of several, by name. */
export function ChoiceField<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <label className="text-xs text-graphite">
      {label}{' '}
      <select
        className="min-h-6 max-w-48 rounded-md border border-edge-strong bg-sheet px-1 text-xs text-ink"
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {options.map(([own, text]) => (
          <option key={own} value={own}>
            {text}
          </option>
        ))}
      </select>
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
