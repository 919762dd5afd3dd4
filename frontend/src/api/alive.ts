import { create } from "zustand";

interface Alive {
  /** Nobody answers; who wants something waits. */
  away: boolean;
  /** What happened, where another process answers than the one that did before. */
  again: string | null;
  told: () => void;
}

export const useAlive = create<Alive>((set) => ({ away: false, again: null, told: () => set({ again: null }) }));

const LOOK_EVERY = 700;
let start: string | null = null;
let looking: Promise<void> | null = null;
const listeners = new Set<() => void>();

/** Told when the application answers again after it did not. */
export function whenBack(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

const rest = () => new Promise((done) => setTimeout(done, LOOK_EVERY));

async function look(): Promise<{ start: string; again: string | null } | null> {
  try {
    const response = await fetch("/api/started", { cache: "no-store" });
    return response.ok ? ((await response.json()) as { start: string; again: string | null }) : null;
  } catch {
    return null;
  }
}

/** Resolves when the application answers; asks until then. */
export function answersAgain(): Promise<void> {
  looking ??= (async () => {
    useAlive.setState({ away: true });
    let found = await look();
    while (!found) {
      await rest();
      found = await look();
    }
    const again = start !== null && start !== found.start ? found.again : null;
    start = found.start;
    looking = null;
    useAlive.setState({ away: false, ...(again ? { again } : {}) });
    listeners.forEach((listener) => listener());
  })();
  return looking;
}

/** Every answer says which start of the application it comes from. */
export function heard(response: Response): void {
  const told = response.headers.get("X-Start");
  if (told === null || told === start) return;
  const known = start !== null;
  start = told;
  // It was started again so quickly that nobody noticed, or between two questions.
  if (known) void look().then((found) => found?.again && useAlive.setState({ again: found.again }));
}
