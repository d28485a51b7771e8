import type { DrawnPoints } from './drawn-figure.ts';
import { joint, line, type Place, sheet, wobble } from './pencil.ts';

/** How a mail sack bounces along the quay. */
export interface MailSack {
  readonly width: number;
  readonly height: number;
  readonly ground: number;
  /** Frames from one bounce to the next at first; each is 0.8 as long. */
  readonly bounce: number;
  /** Width over what would keep the volume, when it is squashed: 1 keeps it. */
  readonly keeps: number;
}

export const MAIL_SACK: MailSack = Object.freeze({ width: 960, height: 540, ground: 470, bounce: 14, keeps: 1 });

const REST = { half: 62, high: 150 };
const LOSS = 0.8;
/** Lowest and highest height over that at rest. */
const SQUASH = 0.62;
const STRETCH = 1.22;

/** Height over rest, and height over the ground, of the sack at a frame. */
function stateAt(frame: number, { bounce }: MailSack): { stretch: number; up: number; x: number } {
  // It falls first: half a bounce, from where one would have begun.
  let [from, long, high] = [-bounce / 2, bounce, 210];
  while (frame >= from + long && long > 2) {
    from += long;
    long *= LOSS;
    high *= LOSS * LOSS;
  }
  const t = long > 2 ? (frame - from) / long : 0.5;
  const up = long > 2 ? 4 * high * t * (1 - t) : 0;
  // Stretched where it goes fast, squashed where it touches.
  const fast = Math.abs(1 - 2 * t);
  const near = Math.max(0, 1 - up / 40);
  const size = Math.min(1, high / 210);
  const stretch = 1 + size * ((STRETCH - 1) * fast * (1 - near) - (1 - SQUASH) * near);
  return { stretch: long > 2 ? stretch : 1, up, x: 140 + 11 * frame };
}

/** The sack's top, bottom, left and right at a frame, y down. */
export function sackPoints(frame: number, sack: MailSack = MAIL_SACK): DrawnPoints {
  const { stretch, up, x } = stateAt(frame, sack);
  const high = REST.high * stretch;
  const half = (REST.half / stretch) * (1 + (sack.keeps - 1) * Math.max(0, 1 - stretch));
  const bottom = sack.ground - up;
  return {
    top: [x, bottom - high],
    bottom: [x, bottom],
    left: [x - half, bottom - 0.42 * high],
    right: [x + half, bottom - 0.42 * high],
  };
}

/** Drawing of the sack, as SVG. */
export function drawSack(
  points: DrawnPoints,
  drawing: number,
  { width, height, ground }: MailSack = MAIL_SACK,
): string {
  const hand = wobble(drawing + 40);
  const ink = '#34393f';
  const [top, bottom, left, right] = ['top', 'bottom', 'left', 'right'].map((name) => points[name]!) as [
    Place,
    Place,
    Place,
    Place,
  ];
  const p = ([x, y]: Place): string => `${x.toFixed(2)} ${y.toFixed(2)}`;
  const body =
    line([0, ground + 4], [width, ground + 4], 2, wobble(3), '#6b7075') +
    `<path d="M${p(top)}C${p([left[0], top[1]])} ${p([left[0], left[1] - 20])} ${p(left)}` +
    `S${p([left[0] + 8, bottom[1]])} ${p(bottom)}S${p([right[0], right[1] + 20])} ${p(right)}` +
    `S${p([right[0] - 8, top[1]])} ${p(top)}Z" fill="#efe6d0" stroke="${ink}" stroke-width="2.4"/>` +
    line([top[0] - 20, top[1] + 18], [top[0] + 20, top[1] + 18], 3, hand, ink) +
    [top, bottom, left, right].map((own) => joint(own, 6, ink)).join('');
  return sheet(width, height, body);
}
