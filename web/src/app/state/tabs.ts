import { signal } from '@angular/core';
import type { Design } from '@unirota/core/document';
import { mergeDesigns, same } from '@unirota/core/document';
import type { ServerState } from './saver';

/** What the tabs of one design tell each other. */
type Message = { from: string } & (
  | { kind: 'hello' }
  | { kind: 'state'; version: number; on: number; design: Design }
  | { kind: 'kept'; version: number }
  | { kind: 'server'; state: ServerState; revision: number; savedAt?: string }
);

export interface Channel {
  postMessage(m: unknown): void;
  close(): void;
  onmessage: ((e: MessageEvent) => void) | null;
}
/** The part of the browser that is used, so that tests can stand in for it. */
export interface Surroundings {
  channel?: (name: string) => Channel;
  locks?: Pick<LockManager, 'request' | 'query'>;
}
export const browserSurroundings = (): Surroundings => ({
  ...(typeof BroadcastChannel === 'undefined' ? {} : { channel: (name: string) => new BroadcastChannel(name) }),
  // Only over a secure address, or on the machine itself.
  ...(typeof navigator !== 'undefined' && navigator.locks ? { locks: navigator.locks } : {}),
});

export interface Listener {
  /** The design as another tab has it now. */
  state(design: Design): void;
  /** This tab has become the one that sends. */
  leads(): void;
  /** The sending tab has an edit in its keeping. */
  kept(version: number): void;
  server(state: ServerState, revision: number, savedAt?: string): void;
}

/** How many states are remembered, to join edits that two tabs made at the same moment. */
const REMEMBERED = 20;

/**
 * The tabs of a browser in which one design is open: they show the same, and one of them sends. Edits count up; a
 * tab that is told of a newer state takes it; two that were made on the same one are joined by the tab that sends.
 */
export class Tabs {
  /** This tab sends: it holds the lock, or there are no locks to hold. */
  readonly leading = signal(false);
  version = 0;
  private readonly channel?: Channel;
  private readonly states = new Map<number, Design>();
  private closed = false;
  private readonly gaveUp = new AbortController();

  constructor(
    private readonly design: string,
    readonly writer: string,
    private readonly surroundings: Surroundings,
    private readonly listener: Listener,
  ) {
    this.channel = surroundings.channel?.(`unirota ${design}`);
    if (this.channel) this.channel.onmessage = (e) => this.hear(e.data as Message);
    const { locks } = surroundings;
    if (!locks) this.leading.set(true);
    else {
      void locks.request(writerLock(writer), { signal: this.gaveUp.signal }, () => this.held()).catch(() => undefined);
      void locks
        .request(`unirota saves ${design}`, { signal: this.gaveUp.signal }, () => {
          if (this.closed) return undefined;
          this.leading.set(true);
          this.listener.leads();
          return this.held();
        })
        .catch(() => undefined);
    }
  }

  /** The design as it stands in this tab. */
  get current(): Design | undefined {
    return this.states.get(this.version);
  }

  /** Asks for what others have: what they have not saved yet is newer than the server's. */
  greet(design: Design, version: number): void {
    this.version = Math.max(this.version, version);
    this.remember(design);
    this.say({ kind: 'hello', from: this.writer });
  }

  /** An edit of this tab; gives its version. */
  edited(design: Design): number {
    const on = this.version++;
    this.remember(design);
    this.say({ kind: 'state', from: this.writer, version: this.version, on, design });
    return this.version;
  }

  tellKept(version: number): void {
    this.say({ kind: 'kept', from: this.writer, version });
  }
  tellServer(state: ServerState, revision: number, savedAt?: string): void {
    this.say({ kind: 'server', from: this.writer, state, revision, ...(savedAt ? { savedAt } : {}) });
  }

  /** Writers that are open in some tab of this browser; undefined where that cannot be known. */
  async living(): Promise<Set<string> | undefined> {
    const held = (await this.surroundings.locks?.query())?.held;
    return held && new Set(held.map((l) => l.name?.replace(WRITER, '') ?? ''));
  }

  close(): void {
    this.closed = true;
    this.gaveUp.abort();
    this.holds.forEach((letGo) => letGo());
    this.channel?.close();
  }

  private readonly holds: (() => void)[] = [];
  /** A promise that is kept when this tab closes the design: as long as it is not, the lock is held. */
  private held(): Promise<void> {
    return new Promise((r) => {
      this.holds.push(r);
      if (this.closed) r();
    });
  }

  private say(m: Message): void {
    if (!this.closed) this.channel?.postMessage(m);
  }

  private remember(design: Design): void {
    this.states.set(this.version, design);
    this.states.delete(this.version - REMEMBERED);
  }

  private hear(m: Message): void {
    if (this.closed || m.from === this.writer) return;
    switch (m.kind) {
      case 'hello': {
        const mine = this.states.get(this.version);
        if (mine && this.version > 0) this.say({ kind: 'state', from: this.writer, version: this.version, on: this.version - 1, design: mine });
        return;
      }
      case 'kept':
        return this.listener.kept(m.version);
      case 'server':
        return this.listener.server(m.state, m.revision, m.savedAt);
      case 'state':
        return this.hearState(m);
    }
  }

  private hearState(m: Extract<Message, { kind: 'state' }>): void {
    const mine = this.states.get(this.version);
    if (mine && same(mine, m.design)) {
      this.version = Math.max(this.version, m.version);
      this.remember(mine);
      return;
    }
    const common = this.states.get(m.on);
    // Made on what stands here, or on something newer: it is simply the next state.
    if (!mine || m.on >= this.version || (!common && m.version > this.version)) {
      this.version = m.version;
      this.remember(m.design);
      this.listener.state(m.design);
      return;
    }
    // Both were made on the same state: the sending tab joins them, the other waits for what comes of it.
    if (!this.leading() || !common) return;
    const joined = mergeDesigns(common, mine, m.design).design;
    this.version = Math.max(this.version, m.version) + 1;
    this.remember(joined);
    this.listener.state(joined);
    this.say({ kind: 'state', from: this.writer, version: this.version, on: this.version, design: joined });
  }
}

const WRITER = 'unirota writer ';
const writerLock = (writer: string): string => `${WRITER}${writer}`;
