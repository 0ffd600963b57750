interface GaugeProps {
  done: number;
  of: number;
  label: string;
  className?: string;
}

/** How much of something is done. */
export function Gauge({ done, of, label, className = 'w-full' }: GaugeProps) {
  const share = of > 0 ? Math.min(1, done / of) : 0;
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * share)}
      className={`inline-block h-2 bg-sunk align-middle ${className}`}
    >
      <span className="block h-full bg-oxide" style={{ width: `${100 * share}%` }} />
    </span>
  );
}
