import type { ReactNode } from 'react';

interface OfCohortProps {
  /** The cohort that is chosen, and the one that what is shown belongs to. */
  readonly chosen: string | undefined;
  readonly shown: string;
  readonly className?: string;
  readonly children: ReactNode;
}

/** What belongs to a cohort. While another is chosen and on its way it is pale, and nothing can be done with it: no list goes out for the wrong one. */
export function OfCohort({ chosen, shown, className = '', children }: OfCohortProps) {
  const stale = chosen !== undefined && chosen !== shown;
  return (
    <div aria-busy={stale} inert={stale} className={`${className} ${stale ? 'opacity-50' : ''}`}>
      {children}
    </div>
  );
}
