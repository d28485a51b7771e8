/** What the shot's own camera saw: what lies outside is pale, and within it a line marks what no screen cuts off. */
export function ShotFrame({ aspect }: { aspect: number }) {
  return (
    <div
      className="pointer-events-none absolute inset-0 overflow-hidden [container-type:size]"
      data-testid="shot-frame"
    >
      <div
        className="absolute top-1/2 left-1/2 -translate-x-1/2 -translate-y-1/2 border border-edge-strong shadow-[0_0_0_9999px_color-mix(in_srgb,var(--sheet)_70%,transparent)]"
        style={{ aspectRatio: aspect, width: `min(100cqw, ${aspect} * 100cqh)` }}
      >
        <div className="absolute inset-[5%] border border-dashed border-edge-strong" />
      </div>
    </div>
  );
}
