import type { RevisionState } from '@ypsigraph/contract/vocabulary';

/** A shape for each state, so that a column can be read without colour. */
export const STATE_SIGNS: Readonly<Record<RevisionState, string>> = {
  'handed in': '◔',
  'on the desk': '◑',
  'sent back': '↩',
  'signed off': '●',
  withdrawn: '×',
};
