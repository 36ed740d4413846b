/** The wordmark: a panel with its rail. */
export function Wordmark() {
  return (
    <span className="inline-flex items-center gap-2 font-semibold font-title text-[17px]">
      <svg viewBox="0 0 20 20" className="size-5" aria-hidden="true">
        <path d="M2 18V4h16v14z" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <path d="M2 8h16" stroke="currentColor" strokeWidth="1.6" />
        <path d="M5 18V8h3v10zM12 18V8h3v10z" fill="var(--oak)" />
      </svg>
      Wainscot
    </span>
  );
}
