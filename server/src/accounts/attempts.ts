import { createHash } from 'node:crypto';
import type { Database } from '../database/database';
import { Refusal } from '../refusal';

const WINDOW = 15 * 60_000;
/**
 * Wrong tries within a quarter of an hour: of one name from one
 * address, of one name from anywhere, of one address for any name.
 */
const MOST = { nameAndAddress: 10, name: 25, address: 100 };

/** Counts wrong tries in the database, so that they hold for all servers and through restarts. */
export class Attempts {
  constructor(private readonly database: Database) {}

  /**
   * Counts a try that is about to be made, and refuses it where there were too many. A try that turns out right is taken
   * back.
   */
  async begin(login: string, address: string): Promise<{ forgive(): Promise<void> }> {
    const start = new Date(Math.floor(Date.now() / WINDOW) * WINDOW);
    const key = (kind: string, of: string): Buffer => Buffer.from(`sign-in ${kind} ${createHash('sha256').update(of).digest('base64url')}`);
    const keys: [Buffer, number][] = [
      [key('both', JSON.stringify([login, address])), MOST.nameAndAddress],
      [key('name', login), MOST.name],
      [key('address', address), MOST.address],
    ];
    const full = await this.database.transaction(async (s) => {
      let over = false;
      for (const [name, most] of keys) {
        await s.change('INSERT INTO counts (name, window_start, count) VALUES (:name, :start, 1) ON DUPLICATE KEY UPDATE count = count + 1', {
          name,
          start,
        });
        const [row] = await s.rows<{ count: number }>('SELECT count FROM counts WHERE name = :name AND window_start = :start', { name, start });
        over ||= row.count > most;
      }
      return over;
    });
    if (full) {
      throw new Refusal(429, 'Too many tries to sign in: wait a quarter of an hour', {
        retryAfter: Math.ceil((start.getTime() + WINDOW - Date.now()) / 1000),
      });
    }
    return {
      forgive: async () => {
        for (const [name] of keys) {
          await this.database.change('UPDATE counts SET count = GREATEST(count, 1) - 1 WHERE name = :name AND window_start = :start', {
            name,
            start,
          });
        }
      },
    };
  }
}
