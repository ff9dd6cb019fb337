import { signal } from '@angular/core';
import { type Subscription, exhaustMap, firstValueFrom, from, fromEvent, interval, merge, takeWhile } from 'rxjs';
import { type Design, same } from '@unirota/core/document';
import type { May, StoredDesign } from '@unirota/contract';
import { type ApiService, ServerTrouble, newId } from './api.service';
import { type Draft, Drafts, type Found } from './drafts';
import { Saver } from './saver';
import { Tabs, type Surroundings, browserSurroundings } from './tabs';

/** How long after the server did not answer it is asked again, ms. */
const ASK_AGAIN = 10_000;

export interface Opened {
  design: Design;
  may: May;
  /** Work kept here that cannot be read any more. */
  damaged: Found['damaged'];
}
export interface KeeperOptions {
  api: ApiService;
  id: string;
  /** Whose drafts: of the person who is signed in. */
  owner?: string;
  /** Another tab has changed the design. */
  changed: (design: Design) => void;
  drafts?: Drafts;
  surroundings?: Surroundings;
}

/**
 * All keeping of one open design in one tab: drafts, saver, and the other tabs. It ends with the tab or when the design is
 * closed.
 */
export class Keeper {
  readonly writer = newId();
  readonly saver: Saver;
  readonly tabs: Tabs;
  /** This browser keeps nothing at all: private or blocked storage. */
  readonly blocked = signal(false);
  private readonly drafts: Drafts;
  private reported = '';

  constructor(private readonly o: KeeperOptions) {
    this.drafts = o.drafts ?? new Drafts(o.owner);
    this.saver = new Saver({
      api: o.api,
      drafts: this.drafts,
      id: o.id,
      writer: this.writer,
      base: 0,
      sends: () => this.tabs.leading(),
      changed: () => this.tell(),
      saved: (document, revision) => this.keepCopy(document, revision),
    });
    this.tabs = new Tabs(o.owner ? `${o.owner}.${o.id}` : o.id, this.writer, o.surroundings ?? browserSurroundings(), {
      state: (design) => {
        o.changed(design);
        if (this.tabs.leading()) {
          this.saver.take(design, this.tabs.version);
          const version = this.tabs.version;
          void this.saver.settledHere().then(() => this.saver.here() === 'kept' && this.tabs.tellKept(version));
        }
      },
      leads: () => void this.takeLead(),
      kept: (version) => this.saver.handedOver(version),
      server: (state, revision, savedAt) => this.saver.follow(state, revision, savedAt),
    });
  }

  /** Opens the design: what is kept here goes on where it stood; without the server too. */
  async open(): Promise<Opened> {
    await this.drafts.takeOver(this.o.id).catch(() => undefined);
    const found = await this.drafts.find(this.o.id).catch((): Found => {
      this.blocked.set(true);
      return { drafts: [], damaged: [] };
    });
    const stored = await this.read();
    const left = await this.leftBehind(found.drafts);
    if (stored instanceof ServerTrouble && !left) return this.openCopy(stored, found.damaged);
    const there = stored instanceof ServerTrouble ? undefined : stored;
    if (there) this.keepCopy(there.design, there.revision, there.may);
    this.may = there?.may ?? 'edit';
    this.saver.base = there?.revision ?? left!.base;
    const may = there?.may ?? 'edit';
    if (left && may !== 'look') {
      if (there && same(there.design, left.document)) await this.drafts.clear(this.o.id, left.writer, left.version);
      else {
        const mine = await this.drafts.adopt(left, this.writer).catch(() => left);
        this.tabs.version = mine.version;
        this.saver.resume(mine);
        this.tabs.greet(mine.document, mine.version);
        return { design: mine.document, may, damaged: found.damaged };
      }
    }
    this.tabs.greet(there!.design, 0);
    return { design: there!.design, may, damaged: found.damaged };
  }

  private may: May = 'edit';
  private keepCopy(document: Design, revision: number, may = this.may): void {
    void this.drafts.keepCopy({ design: this.o.id, name: document.name, revision, may, at: Date.now(), document }).catch(() => undefined);
  }
  /**
   * The server is away and nothing was left undone: what it had last
   * goes on. Where it says that there is no such design, nothing does.
   */
  private async openCopy(trouble: ServerTrouble, damaged: Found['damaged']): Promise<Opened> {
    const copy = trouble.passing ? await this.drafts.copyOf(this.o.id).catch(() => undefined) : undefined;
    if (!trouble.passing) void this.drafts.dropCopy(this.o.id).catch(() => undefined);
    if (!copy) throw trouble;
    this.saver.base = copy.revision;
    this.saver.offline();
    this.awaitServer();
    this.may = copy.may;
    this.tabs.greet(copy.document, 0);
    return { design: copy.document, may: copy.may, damaged };
  }

  /** Asks again until the server answers; what it has meanwhile is taken on where nothing was edited here. */
  private awaitServer(): void {
    const asked = merge(fromEvent(globalThis as unknown as Window, 'online'), interval(ASK_AGAIN)).pipe(
      takeWhile(() => this.saver.server() === 'offline'),
      exhaustMap(() => from(this.read())),
    );
    this.waiting = asked.subscribe((stored) => {
      if (stored instanceof ServerTrouble || !this.saver.online(stored.revision)) return;
      this.may = stored.may;
      this.keepCopy(stored.design, stored.revision);
      if (!same(stored.design, this.tabs.current)) this.o.changed(stored.design);
    });
  }
  private waiting?: Subscription;

  /** An edit of this tab. */
  edited(design: Design): void {
    this.saver.take(design, this.tabs.edited(design));
  }

  /** A person has chosen after a conflict: `design` goes on from the server's revision. */
  settle(design: Design, theirs: StoredDesign): void {
    this.saver.settle(theirs.revision);
    const version = this.tabs.edited(design);
    if (!same(design, theirs.design)) this.saver.take(design, version);
  }

  /** What is kept here is safe elsewhere. */
  abandon(): void {
    this.saver.settle(this.saver.base);
  }

  async forget(writer: string): Promise<void> {
    await this.drafts.clear(this.o.id, writer, Infinity);
  }

  close(): void {
    this.waiting?.unsubscribe();
    this.saver.close();
    this.tabs.close();
  }

  /** What the sending tab knows of the server, the others show. */
  private tell(): void {
    const { server, savedAt } = this.saver;
    const text = `${server()} ${savedAt()} ${this.saver.base}`;
    if (!this.tabs?.leading() || text === this.reported) return;
    this.reported = text;
    this.tabs.tellServer(server(), this.saver.base, savedAt());
  }

  /**
   * The tab that sent has gone. What it had not got confirmed is in its draft: its unanswered save is asked again as it was, and
   * then goes what stands here, which has all its edits, because tabs count them together.
   */
  private async takeLead(): Promise<void> {
    const { current, version } = this.tabs;
    const found = current && (await this.drafts.find(this.o.id).catch(() => undefined));
    const living = await this.tabs.living();
    const left = found?.drafts.filter((d) => d.writer !== this.writer && !living?.has(d.writer)).at(-1);
    if (current && left && left.version <= version) {
      const mine = { ...left, version, document: current };
      this.saver.resume(await this.drafts.adopt(mine, this.writer).catch(() => mine));
    } else this.saver.now();
  }

  private async read(): Promise<StoredDesign | ServerTrouble> {
    try {
      return await firstValueFrom(this.o.api.read(this.o.id));
    } catch (e) {
      return e instanceof ServerTrouble ? e : new ServerTrouble($localize`The server does not answer`, 0);
    }
  }

  /**
   * The newest draft whose writer is no more. Tabs that were open together counted their edits together, so an older draft on the
   * same revision is a state on the way to it and goes; any other is stored on the server beside the line.
   */
  private async leftBehind(drafts: readonly Draft[]): Promise<Draft | undefined> {
    if (!drafts.length) return undefined;
    const living = await this.tabs.living();
    const left = drafts.filter((d) => !living?.has(d.writer));
    const newest = left.pop();
    for (const d of left) void this.putBeside(d, newest!).catch(() => undefined);
    return newest;
  }

  private async putBeside(d: Draft, newest: Draft): Promise<void> {
    if (d.base !== newest.base) await firstValueFrom(this.o.api.aside(this.o.id, { base: d.base, save: newId(), design: d.document }));
    await this.drafts.clear(this.o.id, d.writer, d.version);
  }
}
