import type { MarkKind } from '@ypsigraph/contract/vocabulary';

/** A mark as it is being written. */
export interface Draft {
  readonly kind: MarkKind;
  readonly from: number;
  readonly to: number;
  readonly joint: string | null;
  readonly words: string;
  /** Becomes the mark's id, so that sending it twice makes one mark. */
  readonly key: string;
}
