import { CHART_PRESETS, presetFractions } from '@ypsigraph/core/chart/presets';
import { TimingChart } from '../../../charts/timing-chart.tsx';
import { Button } from '../../../kit/button.tsx';
import type { LensFrame } from '../../lenses/lens.ts';
import { pointIndex } from '../../frames/frame-source.ts';
import { type DrawnMark, pathOnPaper } from '../drawn-mark.ts';
import { STROKE } from './fields.tsx';
import type { Asked, MarkKindView } from './mark-kind-view.ts';

export const SPACING_VIEW: MarkKindView<'spacing'> = {
  about: 'how far it goes from one frame to the next',
  sign: <path {...STROKE} d="M-5-3V3M-2.5-3V3M1-3V3M5-3V3" />,
  Fields({ payload: { measured, wanted }, want, draft }) {
    return (
      <div>
        <TimingChart
          measured={measured.fractions}
          wanted={wanted.fractions}
          first={draft.from}
          onChange={(fractions) => want({ fractions })}
        />
        <div className="mt-1 flex flex-wrap gap-0.5" role="group" aria-label="Spacing that is wanted">
          {CHART_PRESETS.map((preset) => (
            <Button
              key={preset}
              look="quiet"
              className="!min-h-6 px-1 text-2xs"
              onClick={() => want({ fractions: presetFractions(preset, measured.fractions.length - 1) })}
            >
              {preset}
            </Button>
          ))}
        </div>
      </div>
    );
  },
  draw: drawTicks,
  /** The way it goes over its frames, in steps as they are wanted. */
  trace({ wanted: { fractions } }, { from, to }, { trace, values, first }) {
    const own = Array.from(values).slice(Math.max(0, from - first), Math.max(0, to - first));
    // A mark of an earlier revision may lie on more or fewer frames now: its chart is for those it was made on.
    if (trace !== 'speed' || own.length !== fractions.length - 1) return [];
    const length = own.reduce((sum, value) => sum + value, 0);
    return fractions.slice(1).map((fraction, k) => [from + k + 0.5, (fraction - fractions[k]!) * length]);
  },
  chart: ({ measured, wanted }) => ({ measured: measured.fractions, wanted: wanted?.fractions ?? null }),
};

/** Where along its path the point should be at each frame: ticks across it. */
function drawTicks(frame: LensFrame, mark: DrawnMark, { wanted }: Asked<'spacing'>): void {
  const { context, inks, source } = frame;
  const point = pointIndex(source, mark.point);
  if (point < 0) return;
  const places = pathOnPaper(frame, mark, point);
  const gone = [0];
  for (let k = 1; k < places.length; k++)
    gone.push(gone[k - 1]! + Math.hypot(places[k]!.x - places[k - 1]!.x, places[k]!.y - places[k - 1]!.y));
  const whole = gone.at(-1)!;
  if (!(whole > 1)) return;
  context.strokeStyle = inks.instructor;
  context.lineWidth = 2;
  for (const fraction of wanted.fractions) {
    const at = Math.min(1, Math.max(0, fraction)) * whole;
    const k = Math.max(
      1,
      gone.findIndex((length) => length >= at - 1e-9),
    );
    const [a, b] = [places[k - 1]!, places[k]!];
    const step = gone[k]! - gone[k - 1]! || 1;
    const u = (at - gone[k - 1]!) / step;
    const [x, y] = [a.x + u * (b.x - a.x), a.y + u * (b.y - a.y)];
    const [nx, ny] = [-(b.y - a.y) / step, (b.x - a.x) / step];
    context.beginPath();
    context.moveTo(x + 4 * nx, y + 4 * ny);
    context.lineTo(x + 13 * nx, y + 13 * ny);
    context.stroke();
  }
}
