import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';

/** One part of the sheet, with its heading. */
export function Section({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-t border-edge-strong py-4">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-lg">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}

interface Lines {
  readonly label: string;
  readonly values: readonly string[];
  readonly most: number;
  readonly placeholder?: string;
  readonly onChange: (values: string[]) => void;
}

/** A short list of lines, each in a field of its own. */
export function LineList({ label, values, most, placeholder, onChange }: Lines) {
  return (
    <fieldset>
      <legend className="mb-0.5 text-xs font-semibold text-graphite">{label}</legend>
      <ol className="space-y-1">
        {values.map((value, k) => (
          <li key={k} className="flex gap-1">
            <input
              aria-label={`${label}, ${k + 1}`}
              className={INPUT}
              value={value}
              placeholder={placeholder}
              onChange={(event) => onChange(values.with(k, event.target.value))}
            />
            <Button look="quiet" aria-label={`Leave “${value}” out`} onClick={() => onChange(values.toSpliced(k, 1))}>
              <X size={14} />
            </Button>
          </li>
        ))}
      </ol>
      {values.length < most && (
        <Button look="quiet" className="mt-1 !min-h-6 text-xs" onClick={() => onChange([...values, ''])}>
          <Plus size={13} /> One more
        </Button>
      )}
    </fieldset>
  );
}

interface NumberProps {
  readonly id?: string;
  readonly label?: string;
  readonly value: number | null;
  readonly empty?: boolean;
  readonly step?: number;
  readonly onChange: (value: number | null) => void;
}

/** A number; emptied it is null where that is allowed, and stays as it was where not. */
export function NumberInput({ id, label, value, empty = false, step = 1, onChange }: NumberProps) {
  return (
    <input
      id={id}
      aria-label={label}
      type="number"
      step={step}
      className={`${INPUT} frame-number`}
      value={value ?? ''}
      onChange={({ target }) => {
        if (Number.isFinite(target.valueAsNumber)) onChange(target.valueAsNumber);
        else if (empty) onChange(null);
      }}
    />
  );
}
