import { createContext, useContext } from 'react';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import type { FrameSource } from './frames/frame-source.ts';
import type { Judged } from './judged.ts';

/** What lies on the desk, and who looks at it: the same for paper, strip and margin. */
export interface Review {
  readonly shot: Shot;
  readonly revision: Revision;
  readonly role: Role;
  /** Marks can be made on it, and those not sent yet changed. */
  readonly canMark: boolean;
  /** Its frames; undefined until they have come. */
  readonly source: FrameSource | undefined;
  readonly judged: Judged;
}

/** Whether its figure can be bent: a puppet on a picture is looked at and measured, and stays as it was cut. */
export const canBend = ({ revision, source }: Pick<Review, 'revision' | 'source'>): boolean =>
  revision.media === 'motion' && source?.figure?.shown.isFlat !== true;

export const ReviewContext = createContext<Review | undefined>(undefined);
export const useReview = (): Review => useContext(ReviewContext)!;
