import { showRatio, wilson } from '@/core/reports/measures';

interface Props {
  part: number;
  whole: number;
  /** The highest bound in sight, at the right end of the bar. */
  most: number;
  /** Of the bar, in pixels. */
  width?: number;
}

/** A rate with its 95 % interval: the figure, and how far it may be from the truth. */
export function RateBar({ part, whole, most, width = 72 }: Props) {
  if (whole === 0) return <span className="mute">–</span>;
  const [low, high] = wilson(part, whole);
  const at = (rate: number): number => (most > 0 ? Math.min(1, rate / most) * width : 0);
  const percent = (rate: number): string => (100 * rate).toFixed(2);
  return (
    <span className="rate" title={`95 % interval ${percent(low)} to ${percent(high)} %, ${part} of ${whole}`}>
      <svg width={width} height="10" aria-hidden="true">
        <line x1="0" x2={width} y1="5" y2="5" className="scale" />
        <line x1={at(low)} x2={Math.max(at(low) + 1, at(high))} y1="5" y2="5" className="range" />
        <circle cx={at(part / whole)} cy="5" r="3" />
      </svg>
      <span>{showRatio(part, whole)}</span>
      <span className="skip">
        between {percent(low)} and {percent(high)} percent
      </span>
    </span>
  );
}
