import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

/** Draws the figure of one sample small, with lines: left green and plain, right plum and dashed. */
export function drawSmallFigure(
  canvas: HTMLCanvasElement,
  { axes, motion, world, scale, roles, kind }: PreparedShot,
  sample: number,
  partOf: (joint: number) => string,
  { width, height }: { readonly width: number; readonly height: number },
): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  const ratio = Math.min(2, devicePixelRatio);
  canvas.width = width * ratio;
  canvas.height = height * ratio;
  const style = getComputedStyle(canvas);
  const ink = (name: string): string => style.getPropertyValue(name).trim();
  const n = motion.joints.length;
  const top = roles.hips ?? 0;
  // A face is read from the front, everything else from the side.
  const across = kind === 'turn' || kind === 'take' ? axes.left : axes.forward;
  const at = (joint: number): [number, number] => {
    const k = 3 * (sample * n + joint);
    const h = 3 * (sample * n + top);
    let [x, y] = [0, 0];
    for (let c = 0; c < 3; c++) {
      x += (world.positions[k + c]! - world.positions[h + c]!) * across[c]!;
      y += world.positions[k + c]! * axes.up[c]!;
    }
    return [x / scale.legLength, y / scale.legLength];
  };
  const all = motion.joints.map((_, joint) => at(joint));
  const low = Math.min(...all.map(([, y]) => y), 0);
  const high = Math.max(...all.map(([, y]) => y));
  const size = (height - 8) / Math.max(0.5, high - low + 0.2);
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  context.lineCap = 'round';
  const place = ([x, y]: [number, number]): [number, number] => [width / 2 + x * size, height - 4 - (y - low) * size];
  motion.joints.forEach(({ parent }, joint) => {
    if (parent < 0 || joint === top) return;
    const part = partOf(joint);
    const right = part.endsWith('.R');
    context.strokeStyle = ink(part.endsWith('.L') ? '--left' : right ? '--right' : '--ink');
    context.setLineDash(right ? [3, 2] : []);
    context.lineWidth = 2.25;
    context.beginPath();
    context.moveTo(...place(all[parent]!));
    context.lineTo(...place(all[joint]!));
    context.stroke();
  });
  context.setLineDash([]);
  if (roles.head === undefined) return;
  const [x, y] = place(all[roles.head]!);
  context.beginPath();
  context.arc(x, y - 0.1 * size, 0.13 * size, 0, 2 * Math.PI);
  context.fillStyle = ink('--ink');
  context.fill();
}
