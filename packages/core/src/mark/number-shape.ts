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

export const LABEL = { is: 'label' } as const;
export const PERCENT = { is: 'percent' } as const;
export const LENGTH = { is: 'length' } as const;
