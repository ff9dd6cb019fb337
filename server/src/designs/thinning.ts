/** What the thinning needs to know of a revision. */
export interface Kept {
  number: number;
  savedAt: Date;
  label: string | null;
  beside: boolean;
  keyNumber: number | null;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** All of a day, then the last of each hour for a month, then the last of each day. */
const HOURLY = 31 * DAY;
/** How long the loser of a conflict waits beside the line for somebody who wants it. */
const BESIDE = 90 * DAY;

/**
 * The revisions that may go: those that are neither the newest, nor named, nor of the last day, nor the last of their hour or
 * day; and not the whole documents from which kept ones are told apart, nor the one that the next save will be told apart from.
 */
export function superfluous(revisions: readonly Kept[], current: number, key: number, now: Date): number[] {
  const keep = new Set<number>([current, key]);
  const slots = new Map<string, Kept>();
  for (const r of revisions) {
    const age = now.getTime() - r.savedAt.getTime();
    if (r.label !== null || age < DAY || (r.beside && age < BESIDE)) keep.add(r.number);
    else if (!r.beside) {
      const slot = age < HOURLY ? `h${Math.floor(r.savedAt.getTime() / HOUR)}` : `d${Math.floor(r.savedAt.getTime() / DAY)}`;
      const best = slots.get(slot);
      if (!best || best.number < r.number) slots.set(slot, r);
    }
  }
  for (const r of slots.values()) keep.add(r.number);
  for (const r of revisions) if (keep.has(r.number) && r.keyNumber !== null) keep.add(r.keyNumber);
  return revisions.filter((r) => !keep.has(r.number)).map((r) => r.number);
}
