import { useRef, useState } from "react";

interface Kept<T> {
  /** What was made here and is not answered yet, or a position under the pointer; null when what is saved counts. */
  live: T | null;
  setLive: (value: T | null) => void;
  /** The newest value, also between two renders: what the next quick step goes on from. */
  newest: (saved: T) => T;
  /** Show a value until the last of all saves that are under way is answered. */
  keep: (value: T, save: Promise<unknown>) => void;
}

/** A value that is edited in quick steps: each goes on from the one before it, however long saving takes. */
export function useKept<T>(): Kept<T> {
  const [live, show] = useState<T | null>(null);
  const now = useRef<T | null>(null);
  const pending = useRef(0);
  const setLive = (value: T | null) => {
    now.current = value;
    show(value);
  };
  return {
    live,
    setLive,
    newest: (saved) => now.current ?? saved,
    keep: (value, save) => {
      setLive(value);
      pending.current += 1;
      void save.finally(() => {
        pending.current -= 1;
        if (pending.current === 0 && now.current === value) setLive(null);
      });
    },
  };
}
