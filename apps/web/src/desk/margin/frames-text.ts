/** Frames as they are written on cards and lists: “9” or “9–17”. */
export const framesText = ({ from, to }: { readonly from: number; readonly to: number }): string =>
  from === to ? String(from) : `${from}–${to}`;
