/** The name, with its sign: an arc and its ticks, one of them marked. */
export function Wordmark({ large = false }: { large?: boolean }) {
  const size = large ? 40 : 22;
  return (
    <span className={`inline-flex items-center gap-2 font-display font-semibold ${large ? 'text-2xl' : 'text-lg'}`}>
      <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden>
        <path d="M5 24C8 10 24 10 27 24" fill="none" stroke="var(--ink)" strokeWidth="2" />
        <path
          d="M4 20.5l3.6 1.4M7.6 14l3 2.6M24.4 14l-3 2.6M28 20.5l-3.6 1.4"
          stroke="var(--ink)"
          strokeWidth="2.2"
          strokeLinecap="round"
        />
        <path d="M16 9.5v8" stroke="var(--instructor-line)" strokeWidth="3.2" strokeLinecap="round" />
      </svg>
      <span className={large ? '' : 'max-sm:sr-only'}>Ypsigraph</span>
    </span>
  );
}
