import type { ReactNode } from 'react';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';

/** Kinds of mark in the order of their keys, with what each is about. */
export const KINDS: readonly { readonly kind: MarkKind; readonly key: string; readonly about: string }[] = [
  { kind: 'timing', key: '1', about: 'when something happens, or how long it takes' },
  { kind: 'spacing', key: '2', about: 'how far it goes from one frame to the next' },
  { kind: 'arc', key: '3', about: 'the curve it goes along' },
  { kind: 'breakdown', key: '4', about: 'the pose between two poses, and which it favours' },
  { kind: 'overshoot', key: '5', about: 'past the end of a move, and back' },
  { kind: 'moving hold', key: '6', about: 'a rest that is not a freeze' },
  { kind: 'note', key: '7', about: 'anything else' },
];

const stroke = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.6, strokeLinecap: 'round' as const };

/** A small sign for each kind, drawn about its own middle, 12 by 12. */
export const KIND_SIGNS: Readonly<Record<MarkKind, ReactNode>> = {
  timing: <path {...stroke} d="M-4-4V4M4-4V4M-4 0H4" />,
  spacing: <path {...stroke} d="M-5-3V3M-2.5-3V3M1-3V3M5-3V3" />,
  arc: <path {...stroke} d="M-5 3C-3-4 3-4 5 3" />,
  breakdown: <path {...stroke} d="M-5 4V-4M5 4V-4M2-2.5L2 2.5M-5 0H5" strokeDasharray="0" />,
  overshoot: <path {...stroke} d="M-5 3C-2 3-2-4 1-4S3 1 5 0" />,
  'moving hold': <path {...stroke} d="M-5 1C-3-1-1 2 1 0S4 1 5-1M-5 4H5" />,
  note: <path {...stroke} d="M-4-3H4M-4 0H4M-4 3H1" />,
};

export function KindSign({ kind, size = 14 }: { kind: MarkKind; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-6.5 -6.5 13 13" aria-hidden>
      {KIND_SIGNS[kind]}
    </svg>
  );
}
