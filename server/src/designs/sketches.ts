import type { Logger } from 'pino';
import type { Database } from '../database/database';
import type { Jobs } from '../jobs/jobs';

/** A design that nobody has saved for so long is drawn anew, ms. */
const QUIET = 20_000;
const PAUSE = 250;

/**
 * Draws the sketches of designs anew, one after the other and only while nobody waits for a check: a sketch costs
 * more than a save. What is not drawn here, because a server ended or is always busy, is drawn where a list shows it.
 */
export class Sketches {
  private readonly quiet = new Map<string, NodeJS.Timeout>();
  private readonly queue = new Set<string>();
  private drawing = false;
  private ended = false;

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly log: Logger,
  ) {}

  /** A design has been saved: to be drawn when it has rest. */
  saved(id: string): void {
    clearTimeout(this.quiet.get(id));
    const timer = setTimeout(() => {
      this.quiet.delete(id);
      this.wanted(id);
    }, QUIET).unref();
    this.quiet.set(id, timer);
  }

  /** Somebody looks at a list with this design in it. */
  wanted(id: string): void {
    this.queue.add(id);
    void this.work();
  }

  end(): void {
    this.ended = true;
    for (const t of this.quiet.values()) clearTimeout(t);
    this.quiet.clear();
    this.queue.clear();
  }

  private async work(): Promise<void> {
    if (this.drawing) return;
    this.drawing = true;
    for (const id of this.queue) {
      while (this.jobs.waiting > 0 && !this.ended) await new Promise((r) => setTimeout(r, PAUSE));
      if (this.ended) break;
      this.queue.delete(id);
      await this.draw(id).catch((e: unknown) => this.log.debug({ err: e }, 'sketch not drawn'));
    }
    this.drawing = false;
  }

  private async draw(id: string): Promise<void> {
    const [r] = await this.database.read<{ number: number; body: Buffer; key_body: Buffer | null }>(
      `SELECT r.number, r.body, k.body AS key_body
         FROM designs d JOIN revisions r ON r.design_id = d.id AND r.number = d.revision
         LEFT JOIN revisions k ON k.design_id = d.id AND k.number = r.key_number
        WHERE d.id = :id AND d.sketch_revision < d.revision`,
      { id },
    );
    if (!r) return;
    const sketch = await this.jobs.run('sketched', { body: r.body, key: r.key_body ?? undefined });
    await this.database.change('UPDATE designs SET sketch = :sketch, sketch_revision = :number WHERE id = :id AND sketch_revision < :number', {
      id,
      sketch,
      number: r.number,
    });
  }
}
