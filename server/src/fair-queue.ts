/** What waits, by whom it is for: each gets a turn before anyone gets a second. */
export class FairQueue<T> {
  private readonly lines = new Map<string, T[]>();
  private count = 0;

  get size(): number {
    return this.count;
  }
  sizeOf(who: string): number {
    return this.lines.get(who)?.length ?? 0;
  }

  push(who: string, item: T): void {
    const line = this.lines.get(who);
    if (line) line.push(item);
    else this.lines.set(who, [item]);
    this.count++;
  }

  /**
   * Takes the next in turn. `which` says which of a person's may go now, −1 for none of them; the first, where nothing is
   * said.
   */
  take(which: (who: string, line: readonly T[]) => number = () => 0): { who: string; item: T } | undefined {
    for (const [who, line] of this.lines) {
      const at = which(who, line);
      if (at < 0) continue;
      const [item] = line.splice(at, 1);
      // To the end, so that the next turn is another's.
      this.lines.delete(who);
      if (line.length) this.lines.set(who, line);
      this.count--;
      return { who, item };
    }
    return undefined;
  }
}
