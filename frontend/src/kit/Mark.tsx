import { roles } from "./theme";

/** Our mark: a zigzag path up to a light. */
export function Mark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden>
      <path
        d="M4 26l10-5-6-6 12-4-5-6"
        fill="none"
        stroke={roles.moss}
        strokeWidth="3.4"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <circle cx="25" cy="7" r="3.2" fill={roles.amber} />
    </svg>
  );
}
