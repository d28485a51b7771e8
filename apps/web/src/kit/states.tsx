import type { ReactNode } from 'react';
import type { RequestError } from '../api/client.ts';
import { Button } from './button.tsx';

/** What will be here, and how to start. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md py-16 text-center">
      <h2 className="text-lg">{title}</h2>
      <div className="mt-1 text-graphite">{children}</div>
    </div>
  );
}

export function Failed({ error, again }: { error: RequestError; again?: () => void }) {
  return (
    <div role="alert" className="mx-auto my-8 max-w-lg rounded-md border border-edge-strong bg-sheet p-4">
      <p className="font-semibold">{error.problem.title}</p>
      {error.problem.detail && <p className="text-graphite">{error.problem.detail}</p>}
      {again && (
        <Button className="mt-3" onClick={again}>
          Try again
        </Button>
      )}
    </div>
  );
}

export const Waiting = ({ children = 'One moment …' }: { children?: ReactNode }) => (
  <p role="status" className="py-10 text-center text-graphite">
    {children}
  </p>
);
