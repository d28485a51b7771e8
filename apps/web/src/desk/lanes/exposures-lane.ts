import type { Lane } from './lane.ts';

interface Exposed {
  readonly from: number;
  readonly length: number;
}

/** How long each pose is held: a box a pose, so that twos, threes and a frame held too long are seen at once. */
export const EXPOSURES_LANE: Lane<readonly Exposed[]> = {
  id: 'exposures',
  name: 'exposures',
  legend: 'a box a pose: how many frames each is held',
  needs: 'frames',
  whilePlacing: true,
  prepare: ({ source }) => (source.exposed && source.exposed.length < source.frames ? source.exposed : undefined),
  height: () => 15,
  draw({ context, x, perFrame, from, to, height, inks }, exposed) {
    const usual = exposed[Math.floor(exposed.length / 2)]!.length;
    context.font = `500 9.5px 'Spline Sans Mono', monospace`;
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    for (const { from: at, length } of exposed) {
      if (at + length < from || at > to) continue;
      const left = x(at) - perFrame / 2;
      const width = length * perFrame;
      context.strokeStyle = inks.graphite;
      context.lineWidth = 1;
      context.strokeRect(left + 0.5, 2.5, Math.max(1, width - 1), height - 5);
      if (length !== usual) {
        context.fillStyle = inks.wash;
        context.fillRect(left + 1, 3, Math.max(1, width - 2), height - 6);
      }
      if (width < 12) continue;
      context.fillStyle = inks.ink;
      context.fillText(String(length), left + width / 2, height / 2 + 0.5);
    }
  },
  spot(exposed, label) {
    const own = exposed.find(({ from, length }) => label >= from && label < from + length);
    return (
      own && {
        text: `held for ${own.length === 1 ? '1 frame' : `${own.length} frames`}`,
        from: own.from,
        to: own.from + own.length - 1,
      }
    );
  },
};
