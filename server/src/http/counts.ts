import type { Logger } from 'pino';
import type { Database } from '../database/database';

const EVERY = 1000;

/**
 * Counts of windows of time, shared among all servers of one database. What is counted here is added there once a
 * second, and what the others have counted comes back: a limit may be passed by what arrives within that second.
 */
export class SharedCounts {
  private readonly here = new Map<string, { start: number; added: number; total: number }>();
  private readonly timer: NodeJS.Timeout;
  private swept = 0;

  constructor(
    private readonly database: Database,
    private readonly log: Logger,
    private readonly windowMs = 60_000,
  ) {
    this.timer = setInterval(() => void this.exchange(), EVERY).unref();
  }

  /** Counts one more; gives how many there were in this window, and when it ends. */
  add(name: string, now = Date.now()): { count: number; ends: number } {
    const start = Math.floor(now / this.windowMs) * this.windowMs;
    let c = this.here.get(name);
    if (!c || c.start !== start) this.here.set(name, (c = { start, added: 0, total: 0 }));
    c.added++;
    return { count: c.total + c.added, ends: start + this.windowMs };
  }

  /** Adds what was counted here to the database, and takes over what all have counted. */
  async exchange(): Promise<void> {
    const now = Date.now();
    try {
      for (const [name, c] of this.here) {
        if (c.start + this.windowMs < now) {
          this.here.delete(name);
          continue;
        }
        const added = c.added;
        const values = { name: Buffer.from(name), start: new Date(c.start), added };
        if (added) {
          await this.database.change(
            'INSERT INTO counts (name, window_start, count) VALUES (:name, :start, :added) ON DUPLICATE KEY UPDATE count = count + :added',
            values,
          );
        }
        const [row] = await this.database.read<{ count: number }>('SELECT count FROM counts WHERE name = :name AND window_start = :start', {
          name: values.name,
          start: values.start,
        });
        c.added -= added;
        c.total = row?.count ?? c.total + added;
      }
      if (now - this.swept > 10 * this.windowMs) {
        this.swept = now;
        await this.database.change('DELETE FROM counts WHERE window_start < :old', { old: new Date(now - 86_400_000) });
      }
    } catch (e) {
      this.log.debug({ err: e }, 'counts are not shared just now');
    }
  }

  end(): void {
    clearInterval(this.timer);
  }
}
