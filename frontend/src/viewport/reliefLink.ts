/** Where a relief is looked at from, and where to; in the scene's own units. */
export interface ReliefLook {
  position: [number, number, number];
  target: [number, number, number];
}

type Taker = (look: ReliefLook) => void;

/** Reliefs that are shown together look from the same place: each tells where it moved, the others follow. */
class ReliefLink {
  private readonly takers = new Map<object, Taker>();
  /** Where the last one looked from: a relief that comes to the others begins there. */
  last: ReliefLook | null = null;

  join(who: object, take: Taker): () => void {
    this.takers.set(who, take);
    if (this.last && this.takers.size > 1) take(this.last);
    return () => {
      this.takers.delete(who);
      if (this.takers.size === 0) this.last = null;
    };
  }

  tell(who: object, look: ReliefLook): void {
    if (!this.takers.has(who)) return;
    this.last = look;
    for (const [other, take] of this.takers) if (other !== who) take(look);
  }
}

export const reliefLink = new ReliefLink();
