import type { Stats } from "../api/types";

export function PlainHistogram({ stats, label }: { stats: Stats; label: string }) {
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
          fill="#8f9a83"
        />
      ))}
      <line x1="0" x2="320" y1="62.5" y2="62.5" stroke="#b9b6a6" />
    </svg>
  );
}
