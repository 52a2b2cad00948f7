/** The mark: a stem, and a line that runs on from it. */
export function Mark({ size, colour }: { size: number; colour: string }) {
  return (
    <svg width={size} height={size} viewBox="0 0 22 22" aria-hidden="true">
      <path
        d="M3 3v16M3 12c0-3 2-5 5-5s4 2 5 5l2 7 4-12"
        fill="none"
        stroke={colour}
        strokeWidth="2.4"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  );
}
