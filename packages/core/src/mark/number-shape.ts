/** What a field of a mark's numbers may hold: the contract is made from this. */
export type NumberShape = (
  | { readonly is: 'label' }
  /** Percent of something; under 0 as well. */
  | { readonly is: 'percent' }
  /** A length of time or a count: 0 or more. */
  | { readonly is: 'length' }
  /** A size in units, over 0. */
  | { readonly is: 'size' }
  /** Shares of a way, in order. */
  | { readonly is: 'shares'; readonly least: number; readonly most: number }
  /** Places, three numbers each. */
  | { readonly is: 'places'; readonly least: number; readonly most: number }
  /** Any amount. */
  | { readonly is: 'number' }
  /** Directions, places or rotations by the name of what has them: so many numbers each. */
  | { readonly is: 'by name'; readonly numbers: 3 | 4; readonly most: number }
  | { readonly is: 'word' }
  | { readonly is: 'one of'; readonly words: readonly [string, ...string[]] }
) & {
  /** It may be left out. */
  readonly optional?: true;
  /** It may be null: it was not measured. */
  readonly nullable?: true;
};

/** The shape of every field of a mark's numbers. */
export type ShapeOf<T> = { readonly [K in keyof Required<T>]: NumberShape };

export const AMOUNT = { is: 'number' } as const;
export const LABEL = { is: 'label' } as const;
export const PERCENT = { is: 'percent' } as const;
export const LENGTH = { is: 'length' } as const;
