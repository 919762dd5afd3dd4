import { NumberToken } from "../../kit/NumberToken";

interface MetresTokenProps {
  label: string;
  value: number;
  onCommit: (value: number, key: boolean) => Promise<boolean>;
  onPreview?: (value: number | null) => void;
}

/** A height in metres. */
export function MetresToken({ label, value, onCommit, onPreview }: MetresTokenProps) {
  return (
    <NumberToken
      label={label}
      value={value}
      unit="m"
      min={-20000}
      max={20000}
      step={1}
      decimals={2}
      onPreview={onPreview}
      onCommit={onCommit}
    />
  );
}
