import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { StrengthNews, StrengthResult } from '@unirota/contract/strength';
import { Refusal } from '../refusal';
import { type Jobs, asking } from '../jobs/jobs';
import { FILES } from '../jobs/strength-tasks';
import { ToolTrouble, ensureTools, runTool } from './tools';

/** Runs of the mesher and the solver that wait for the one that is at it. */
const MOST_WAITING = 8;
const FOLDER = 'unirota-strength-';

const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (e) {
    return (e as NodeJS.ErrnoException).code === 'EPERM';
  }
};
/** Takes away the folders of servers that ended in the middle of a model. */
export async function sweepFolders(): Promise<void> {
  for (const name of await readdir(tmpdir())) {
    const pid = new RegExp(`^${FOLDER}(\\d+)-`).exec(name)?.[1];
    if (pid && !alive(Number(pid))) await rm(join(tmpdir(), name), { recursive: true, force: true });
  }
}
/** Of one person at once. */
const MOST_OF_ONE = 2;

/** Who hears how it goes: in steps, and at the end of the result, whose deck lies in a file as a JSON text. */
export interface Listener {
  tell(news: Exclude<StrengthNews, { done: unknown }>): void;
  give(result: Omit<StrengthResult, 'deck'>, deckAsJson: string): Promise<void>;
}

/** Makes strength models, one after the other: each has a folder of its own while it is made, and nothing of it is kept. */
export class Strength {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;
  private readonly waitingOf = new Map<string, number>();

  constructor(
    private readonly jobs: Jobs,
    private readonly log: Logger,
  ) {
    sweepFolders().catch((e: unknown) => log.debug({ err: e }, 'folders of strength models not swept'));
  }

  /** What is wrong with the request comes as a refusal before anything is told. Ended with the signal, at whatever it is. */
  async make(body: Uint8Array, listener: Listener, signal: AbortSignal): Promise<void> {
    const owner = asking.getStore() ?? '';
    const own = this.waitingOf.get(owner) ?? 0;
    if (own >= MOST_OF_ONE) {
      throw new Refusal(429, `One person has at most ${MOST_OF_ONE} strength models made at once; wait for one of them`, { retryAfter: 20 });
    }
    if (this.waiting >= MOST_WAITING) {
      throw new Refusal(503, 'The server has as many strength models to make as it can just now; try again', { retryAfter: 20 });
    }
    this.waiting++;
    this.waitingOf.set(owner, own + 1);
    const folder = await mkdtemp(join(tmpdir(), `${FOLDER}${process.pid}-`));
    try {
      const plan = await this.jobs.run('scriptOf', { body, folder });
      if ('status' in plan) throw new Refusal(plan.status, plan.title, plan.problems ? { problems: plan.problems } : {});
      if ('problem' in plan) return listener.tell(plan);
      listener.tell({ step: 'waiting' });
      const mine = this.last.then(() => (signal.aborted ? undefined : this.work(folder, plan.solve, listener, signal)));
      this.last = mine.catch(() => undefined);
      await mine;
    } catch (e) {
      if (signal.aborted) return;
      if (!(e instanceof ToolTrouble)) {
        if (!(e instanceof Refusal)) this.log.error({ err: e }, 'no strength model');
        throw e;
      }
      listener.tell({ problem: `${e.message}. Try another size of elements.` });
    } finally {
      this.waiting--;
      const left = (this.waitingOf.get(owner) ?? 1) - 1;
      if (left) this.waitingOf.set(owner, left);
      else this.waitingOf.delete(owner);
      await rm(folder, { recursive: true, force: true }).catch((e: unknown) => this.log.warn({ err: e }, 'a folder of a strength model stays'));
    }
  }

  private async work(folder: string, solve: boolean, { tell, give }: Listener, signal: AbortSignal): Promise<void> {
    tell({ step: 'installing' });
    const missing = await ensureTools();
    if (missing) return tell({ problem: missing });
    tell({ step: 'meshing' });
    await runTool('gmsh', ['-3', '-format', 'msh22', '-v', '1', '-o', FILES.mesh, FILES.script], folder, signal);
    tell({ step: 'placing' });
    const made = await this.jobs.run('deckOf', { folder });
    if ('problem' in made) return tell(made);
    if (!solve) return give(made, join(folder, FILES.deckAsJson));
    tell({ step: 'solving' });
    await runTool('ccx', [FILES.deck.replace('.inp', '')], folder, signal);
    const answer = await this.jobs.run('answerOf', { folder });
    return answer
      ? give({ ...made, answer }, join(folder, FILES.deckAsJson))
      : tell({ problem: 'CalculiX gave no answer. Try another size of elements.' });
  }
}
