import { type ReactNode, useId } from 'react';

export const INPUT =
  'w-full rounded-md border border-edge-strong bg-sheet px-2 py-1 text-sm placeholder:text-graphite-soft';

/** A label over a control, with an error under it. */
export function Field({
  label,
  error,
  hint,
  children,
}: {
  label: string;
  error?: string | undefined;
  hint?: string;
  children: (id: string) => ReactNode;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="mb-0.5 block text-xs font-semibold text-graphite">
        {label}
      </label>
      {children(id)}
      {hint && !error && <p className="mt-0.5 text-xs text-graphite">{hint}</p>}
      {error && (
        <p role="alert" className="mt-0.5 text-xs font-semibold">
          {error}
        </p>
      )}
    </div>
  );
}
