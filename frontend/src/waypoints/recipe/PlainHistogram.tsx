import type { Stats } from "../../api/types";
import { roles } from "../../kit/theme";

interface PlainHistogramProps {
  stats: Stats;
  label: string;
  /** A falling line over the bars, 0 to 1 a bin. */
  above?: number[] | undefined;
}

export function PlainHistogram({ stats, label, above }: PlainHistogramProps) {
  const peak = Math.max(...stats.counts, 1e-9);
  const w = 320 / stats.counts.length;
  return (
    <svg viewBox="0 0 320 64" width="100%" role="img" aria-label={label} style={{ display: "block" }}>
      {stats.counts.map((count, i) => (
        <rect
          key={i}
          x={i * w}
          width={Math.max(w - 0.6, 0.5)}
          y={62 - Math.sqrt(count / peak) * 58}
          height={Math.sqrt(count / peak) * 58}
          fill={roles.bar}
        />
      ))}
      {above && (
        <polyline
          points={above.map((share, i) => `${(i * w).toFixed(1)},${(62 - share * 58).toFixed(1)}`).join(" ")}
          fill="none"
          stroke={roles.gentian}
          strokeWidth="1.5"
        />
      )}
      <line x1="0" x2="320" y1="62.5" y2="62.5" stroke={roles.rule} />
    </svg>
  );
}
