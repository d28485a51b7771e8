/** A signal of `count` samples, each worked out. By a plain loop: `Float64Array.from` of a function takes several times as long. */
export function sampled(count: number, value: (sample: number) => number): Float64Array {
  const values = new Float64Array(count);
  for (let i = 0; i < count; i++) values[i] = value(i);
  return values;
}
