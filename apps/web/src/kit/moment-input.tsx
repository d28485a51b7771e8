import { format } from 'date-fns';
import { INPUT } from './field.tsx';

/** As the browser's own field for a day and a time wants it, by the clock on this wall. */
export const toLocal = (iso: string): string => format(new Date(iso), "yyyy-MM-dd'T'HH:mm");

interface Props {
  readonly id?: string;
  readonly label?: string;
  /** A moment, or null where there is none. */
  readonly value: string | null;
  readonly onChange: (value: string | null) => void;
}

/** A day and a time. */
export const MomentInput = ({ id, label, value, onChange }: Props) => (
  <input
    id={id}
    aria-label={label}
    type="datetime-local"
    className={INPUT}
    value={value === null ? '' : toLocal(value)}
    onChange={({ target }) => {
      const date = new Date(target.value);
      onChange(target.value === '' || Number.isNaN(date.getTime()) ? null : date.toISOString());
    }}
  />
);
