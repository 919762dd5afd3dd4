import { NumberToken } from "../../kit/NumberToken";

interface SideProps {
  label: string;
  value: number;
  onCommit: (samples: number) => Promise<boolean>;
}

/** How many samples one side of a map has, of which the smallest and the largest are known. */
export function SideToken({ label, value, onCommit }: SideProps) {
  return (
    <NumberToken
      label={label}
      value={value}
      unit=""
      min={8}
      max={8193}
      step={1}
      decimals={0}
      onCommit={(samples) => onCommit(Math.round(samples))}
    />
  );
}
