import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { StrengthNews } from '@unirota/contract/strength';
import { Refusal } from '../http/problem';
import type { Jobs } from '../jobs/jobs';
import { ToolTrouble, ensureTools, runTool } from './tools';

/** Runs of the mesher and the solver that wait for the one that is at it. */
const MOST_WAITING = 8;

/** Makes strength models, one after the other: each has a folder of its own while it is made, and nothing of it is kept. */
export class Strength {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  constructor(
    private readonly jobs: Jobs,
    private readonly log: Logger,
  ) {}

  /**
   * Tells how it goes, and at the end the deck or what was in the way. What is wrong with the request comes as a refusal before anything is told. Ended with the
   * signal, at whatever it is.
   */
  async make(body: Uint8Array, tell: (news: StrengthNews) => void, signal: AbortSignal): Promise<void> {
    if (this.waiting >= MOST_WAITING) {
      throw new Refusal(503, 'The server has as many strength models to make as it can just now; try again', { retryAfter: 20 });
    }
    this.waiting++;
    try {
      const plan = await this.jobs.run('scriptOf', { body });
      if ('status' in plan) throw new Refusal(plan.status, plan.title, plan.problems ? { problems: plan.problems } : {});
      if ('problem' in plan) return tell(plan);
      tell({ step: 'waiting' });
      const turn = this.last;
      const mine = turn.then(() => (signal.aborted ? undefined : this.inFolder(plan.script, body, tell, signal)));
      this.last = mine.catch(() => undefined);
      await mine;
    } finally {
      this.waiting--;
    }
  }

  private async inFolder(script: string, body: Uint8Array, tell: (news: StrengthNews) => void, signal: AbortSignal): Promise<void> {
    const folder = await mkdtemp(join(tmpdir(), 'unirota-strength-'));
    try {
      tell({ step: 'installing' });
      const missing = await ensureTools();
      if (missing) return tell({ problem: missing });
      if (!signal.aborted) await this.work(folder, script, body, tell, signal);
    } catch (e) {
      if (signal.aborted) return;
      if (!(e instanceof ToolTrouble)) {
        this.log.error({ err: e }, 'no strength model');
        throw e;
      }
      tell({ problem: `${e.message}. Try another size of elements.` });
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async work(folder: string, script: string, body: Uint8Array, tell: (news: StrengthNews) => void, signal: AbortSignal): Promise<void> {
    const at = (name: string): string => join(folder, name);
    tell({ step: 'meshing' });
    await writeFile(at('body.geo'), script);
    await runTool('gmsh', ['-3', '-format', 'msh22', '-v', '1', '-o', 'body.msh', 'body.geo'], folder, signal);
    tell({ step: 'placing' });
    const mesh = await readFile(at('body.msh'));
    const made = await this.jobs.run('deckOf', { body, mesh });
    if ('problem' in made) return tell(made);
    if (!(JSON.parse(Buffer.from(body).toString()) as { solve: boolean }).solve) return tell({ done: made });
    tell({ step: 'solving' });
    await writeFile(at('body.inp'), made.deck);
    await runTool('ccx', ['body'], folder, signal);
    const [frd, dat] = await Promise.all(['body.frd', 'body.dat'].map((f) => readFile(at(f)).catch(() => Buffer.alloc(0))));
    const answer = await this.jobs.run('answerOf', { body, mesh, frd, dat });
    tell(answer ? { done: { ...made, answer } } : { problem: 'CalculiX gave no answer. Try another size of elements.' });
  }
}
