import { useDesk } from '../desk-store.ts';

/** Where one revision ends and the other begins. */
export function Wipe() {
  const at = useDesk((state) => state.wipeAt);
  return (
    <>
      <span
        className="pointer-events-none absolute top-0 bottom-0 z-20 w-px bg-ink"
        style={{ left: `${100 * at}%` }}
        aria-hidden
      />
      <input
        type="range"
        min={0}
        max={1}
        step={0.01}
        value={at}
        aria-label="Where the two revisions meet"
        className="absolute right-0 bottom-1 left-0 z-20 w-full accent-ink"
        onChange={(event) => useDesk.getState().set({ wipeAt: Number(event.target.value) })}
      />
    </>
  );
}
