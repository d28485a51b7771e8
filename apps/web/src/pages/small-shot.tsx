import { useEffect, useRef, useState } from 'react';
import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import type { SmallPicture } from '@ypsigraph/contract/small-pictures';
import { useSmallPicture } from '../api/data.ts';

type Figure = Extract<SmallPicture, { kind: 'figure' }>;

/** Pictures a second, while the pointer or the focus rests on it. */
const RATE = 10;

interface Props {
  readonly revision: string;
  /** It moves while this is so: the row it stands in has the pointer, or the focus. */
  readonly moving: boolean;
}

/** A shot, small: a key pose in lines, or one of its pictures, which moves while somebody looks at it. It adds nothing for those who hear the page. */
export function SmallShot({ revision, moving }: Props) {
  const box = useRef<HTMLSpanElement>(null);
  const seen = useSeen(box);
  const { data } = useSmallPicture(seen ? revision : null);
  const count = data?.kind === 'figure' ? data.poses.length : data?.kind === 'pictures' ? data.pictures.length : 0;
  const at = useMoving(moving && count > 1, count, data && 'key' in data ? data.key : 0);
  return (
    <span
      ref={box}
      aria-hidden
      className="inline-flex h-[45px] w-[60px] shrink-0 items-center justify-center overflow-hidden rounded-sm border border-edge bg-sheet"
    >
      {data?.kind === 'figure' && <Lines figure={data} at={at} />}
      {data?.kind === 'pictures' && <Picture revision={revision} picture={data.pictures[at]!} />}
    </span>
  );
}

/** Whether the pointer or the focus rests on something, and what it must be given to tell. */
export function useLooking(): [
  boolean,
  Pick<React.HTMLAttributes<HTMLElement>, 'onPointerEnter' | 'onPointerLeave' | 'onFocus' | 'onBlur'>,
] {
  const [looking, setLooking] = useState(false);
  const [on, off] = [() => setLooking(true), () => setLooking(false)];
  return [looking, { onPointerEnter: on, onPointerLeave: off, onFocus: on, onBlur: off }];
}

/** Whether something has come into view: a list of hundreds fetches what is looked at. */
function useSeen(box: React.RefObject<Element | null>): boolean {
  const [seen, setSeen] = useState(typeof IntersectionObserver === 'undefined');
  useEffect(() => {
    if (seen || !box.current) return;
    const watch = new IntersectionObserver(
      (entries) => entries.some(({ isIntersecting }) => isIntersecting) && setSeen(true),
      { rootMargin: '200px' },
    );
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [seen, box]);
  return seen;
}

/** Which of several pictures is shown: the one that stands for the shot, or, while it moves, one after the other. */
function useMoving(moving: boolean, count: number, key: number): number {
  const [step, setStep] = useState(0);
  useEffect(() => {
    if (!moving || window.matchMedia('(prefers-reduced-motion: reduce)').matches) return;
    const timer = setInterval(() => setStep((own) => own + 1), 1_000 / RATE);
    return () => {
      clearInterval(timer);
      setStep(0);
    };
  }, [moving]);
  return count === 0 ? 0 : (key + step) % count;
}

const STROKE = { left: 'var(--left)', right: 'var(--right)', centre: 'var(--ink)' } as const;

function Lines({ figure: { width, height, lines, head, poses }, at }: { figure: Figure; at: number }) {
  const pose = poses[at]!;
  const x = (point: number): number => pose[2 * point]!;
  const y = (point: number): number => pose[2 * point + 1]!;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="size-full" strokeLinecap="round" fill="none">
      <line x1={4} x2={width - 4} y1={height - 4} y2={height - 4} stroke="var(--edge-strong)" />
      {lines.map(({ from, to, of }, k) => (
        <line
          key={k}
          x1={x(from)}
          y1={y(from)}
          x2={x(to)}
          y2={y(to)}
          stroke={STROKE[of]}
          strokeWidth={4}
          strokeDasharray={of === 'right' ? '5 4' : undefined}
        />
      ))}
      {head && <circle cx={x(head.at)} cy={y(head.at) - head.radius / 2} r={head.radius} fill="var(--ink)" />}
    </svg>
  );
}

/** One of the stored pictures of a clip. They come as bytes behind one another, and so as no picture by their own address. */
function Picture({ revision, picture }: { revision: string; picture: number }) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    let own: string | undefined;
    const stop = new AbortController();
    const at = addressOf(ROUTES.pictureFrames, { id: revision, size: 'small' }, { from: picture, to: picture });
    fetch(at, { signal: stop.signal })
      .then(async (response) => {
        if (!response.ok) return;
        own = URL.createObjectURL(new Blob([await response.arrayBuffer()], { type: 'image/jpeg' }));
        setAddress(own);
      })
      // A small picture that does not come leaves its place empty.
      .catch(() => undefined);
    return () => {
      stop.abort();
      if (own) setTimeout(URL.revokeObjectURL, 1_000, own);
    };
  }, [revision, picture]);
  return address ? <img src={address} alt="" className="max-h-full max-w-full object-contain" /> : null;
}
