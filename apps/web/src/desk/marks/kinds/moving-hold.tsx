import { Fields, FramesFields, NumberField, STROKE } from './fields.tsx';
import type { MarkKindView } from './mark-kind-view.ts';
import { labelNow, valueAt } from './traced.ts';

export const MOVING_HOLD_VIEW: MarkKindView<'moving hold'> = {
  about: 'a rest that is not a freeze',
  sign: <path {...STROKE} d="M-5 1C-3-1-1 2 1 0S4 1 5-1M-5 4H5" />,
  Fields({ payload: { wanted }, want }) {
    return (
      <Fields>
        <FramesFields
          from={{ label: 'hold from', value: wanted.from }}
          to={wanted.to}
          onChange={(labels) => want({ ...wanted, ...labels })}
        />
        <NumberField
          label="drift, % of the move"
          value={wanted.drift}
          onChange={(drift) => want({ ...wanted, drift })}
        />
      </Fields>
    );
  },
  /** Its rest, from where the move before left it on, drifting on by what is wanted of that move. */
  trace({ wanted }, place, traced) {
    if (traced.trace === 'speed') return [];
    const { values, first } = traced;
    const [from, to] = [labelNow(place, wanted.from), labelNow(place, wanted.to)];
    const start = valueAt(traced, from);
    // The move before a hold begins where the value last turned round.
    let turn = Math.max(0, Math.min(values.length - 1, Math.round(from) - first));
    const direction = Math.sign(start - (values[turn - 1] ?? start));
    while (turn > 0 && direction !== 0 && Math.sign(values[turn]! - values[turn - 1]!) === direction) turn--;
    const travel = start - (values[turn] ?? start);
    return [
      [from, start],
      [to, start + (wanted.drift / 100) * travel],
    ];
  },
};
