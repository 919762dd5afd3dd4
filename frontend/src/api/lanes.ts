/** What is looked at; a small picture beside it; a small picture of what takes long to make. */
export type Rank = "view" | "small" | "long";

/**
 * How many maps may be under way when one more begins. A browser keeps six connections to one place: some are left to
 * everything else, such as edits. What takes long and is small waits until nothing else does.
 */
const MOST: Record<Rank, number> = { view: 4, small: 3, long: 1 };
const ORDER: Rank[] = ["view", "small", "long"];

interface Job {
  rank: Rank;
  name: string;
  begin: () => void;
  /** Give way to something else, and begin anew later. */
  yield: () => void;
}

const running = new Set<Job>();
let waiting: Job[] = [];

function next(): void {
  for (const rank of ORDER)
    for (const job of waiting.filter((one) => one.rank === rank)) {
      if (running.size >= MOST[rank]) return;
      waiting = waiting.filter((one) => one !== job);
      running.add(job);
      job.begin();
    }
}

/** Resolves when it is the job's turn; rejects when nobody waits for it any more. */
function turn(job: Job, signal: AbortSignal | null): Promise<void> {
  return new Promise((begin, refuse) => {
    const left = () => {
      waiting = waiting.filter((one) => one !== job);
      refuse(signal?.reason as Error);
    };
    if (signal?.aborted) return left();
    signal?.addEventListener("abort", left, { once: true });
    job.begin = () => {
      signal?.removeEventListener("abort", left);
      begin();
    };
    waiting.push(job);
    // What is looked at comes first, unless it is the very same that is being made already.
    if (job.rank === "view")
      for (const other of running) if (other.rank === "long" && other.name !== job.name) other.yield();
    next();
  });
}

/** Ask for a map in its turn. `name`: what it is a picture of, whatever its size. */
export async function inLane<T>(
  rank: Rank,
  name: string,
  work: (signal: AbortSignal) => Promise<T>,
  signal: AbortSignal | null = null,
): Promise<T> {
  for (;;) {
    const mine = new AbortController();
    const job: Job = { rank, name, begin: () => undefined, yield: () => mine.abort() };
    await turn(job, signal);
    try {
      signal?.throwIfAborted();
      return await work(signal ? AbortSignal.any([signal, mine.signal]) : mine.signal);
    } catch (error) {
      if (!mine.signal.aborted || signal?.aborted) throw error;
    } finally {
      running.delete(job);
      next();
    }
  }
}
