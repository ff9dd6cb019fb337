import { signal } from '@angular/core';

/** An answer with the question it belongs to. */
export interface Answer<Q, A> {
  readonly of: Q;
  readonly is: A;
}

/**
 * Answers to questions that come faster than they can be answered: one is asked at a time, and
 * of those that wait meanwhile only the newest. The last answer stands until the next is there.
 */
export class Latest<Q, A> {
  readonly answer = signal<Answer<Q, A> | undefined>(undefined);
  private asked: Q | undefined;
  private waits: Q | undefined;

  constructor(
    private readonly solve: (q: Q) => Promise<A>,
    private readonly failed: (e: unknown) => void,
  ) {}

  ask(q: Q): void {
    if (q === this.asked || (this.asked === undefined && this.answer()?.of === q)) {
      this.waits = undefined;
      return;
    }
    this.waits = q;
    if (this.asked === undefined) void this.go();
  }

  private async go(): Promise<void> {
    while (this.waits !== undefined) {
      const q = this.waits;
      this.waits = undefined;
      this.asked = q;
      try {
        this.answer.set({ of: q, is: await this.solve(q) });
      } catch (e) {
        this.failed(e);
      } finally {
        this.asked = undefined;
      }
    }
  }
}
