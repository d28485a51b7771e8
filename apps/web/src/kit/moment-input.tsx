import { format, isValid, parse, parseISO } from 'date-fns';
import { CalendarDays } from 'lucide-react';
import { useRef, useState } from 'react';
import { INPUT } from './field.tsx';

/** How a day and a time are written here, and in which other ways they may be. */
const WRITTEN = 'd MMM yyyy, HH:mm';
const ALSO = [
  'd MMM yyyy HH:mm',
  'd MMMM yyyy, HH:mm',
  'd MMMM yyyy HH:mm',
  'd.M.yyyy, HH:mm',
  'd.M.yyyy HH:mm',
  'd MMM yyyy',
];

/** As the browser's own field for a day and a time wants it, by the clock on this wall. */
const toLocal = (iso: string): string => format(new Date(iso), "yyyy-MM-dd'T'HH:mm");

/** A day and a time as somebody writes it; undefined where it is none. A day alone ends at 18:00. */
export function readMoment(text: string): Date | undefined {
  const tidy = text.trim();
  const now = new Date();
  const found = [WRITTEN, ...ALSO].map((how) => parse(tidy, how, now)).find(isValid) ?? parseISO(tidy);
  if (!isValid(found)) return undefined;
  if (!tidy.includes(':')) found.setHours(18, 0, 0, 0);
  return found;
}

interface Props {
  readonly id?: string;
  readonly label?: string;
  /** A moment, or null where there is none. */
  readonly value: string | null;
  readonly onChange: (value: string | null) => void;
}

/** A day and a time, in the words of the page; a calendar to choose from stands beside it. */
export function MomentInput({ id, label, value, onChange }: Props) {
  const shown = value === null ? '' : format(new Date(value), WRITTEN);
  const [typed, setTyped] = useState<string>();
  const calendar = useRef<HTMLInputElement>(null);
  const wrong = typed !== undefined && typed.trim() !== '' && !readMoment(typed);
  const take = (text: string): void => {
    setTyped(text);
    const moment = readMoment(text);
    if (moment) onChange(moment.toISOString());
    else if (text.trim() === '') onChange(null);
  };
  return (
    <span className="relative block">
      <input
        id={id}
        aria-label={label}
        className={`${INPUT} pr-9`}
        placeholder="no date"
        autoComplete="off"
        aria-invalid={wrong}
        value={typed ?? shown}
        onChange={({ target }) => take(target.value)}
        onBlur={() => !wrong && setTyped(undefined)}
      />
      <button
        type="button"
        aria-label="Choose from a calendar"
        className="absolute inset-y-0 right-1 my-auto size-7 rounded-sm p-1.5 hover:bg-wash"
        onClick={() => calendar.current?.showPicker()}
      >
        <CalendarDays size={15} />
      </button>
      {/* Only its calendar is seen: what it says of the date is in the browser's words. */}
      <input
        ref={calendar}
        type="datetime-local"
        tabIndex={-1}
        aria-hidden
        className="pointer-events-none absolute right-1 bottom-0 size-px opacity-0"
        value={value === null ? '' : toLocal(value)}
        onChange={({ target }) => {
          const date = new Date(target.value);
          if (isValid(date)) {
            setTyped(undefined);
            onChange(date.toISOString());
          }
        }}
      />
      {wrong && (
        <span role="alert" className="mt-0.5 block text-xs font-semibold">
          Write it as 3 Dec 2026, 18:00.
        </span>
      )}
    </span>
  );
}
