/** The tone of an ingredient, as it stands in every board. */
export function Swatch({ tone }: { tone: string }) {
  return (
    <span
      aria-hidden="true"
      style={{
        backgroundColor: `var(--tone-${tone})`,
        backgroundImage: `var(--figure-${tone}, none)`,
      }}
      className="inline-block size-3.5 shrink-0 border border-wood-edge align-[-2px]"
    />
  );
}
