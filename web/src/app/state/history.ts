/** A named step from one state of the work to the next. */
export interface Step<T> {
  name: string;
  before: T;
  after: T;
}

/** Undo and redo over whole states that share their unchanged parts; plain data, no life of its own. */
export interface History<T> {
  readonly done: readonly Step<T>[];
  readonly undone: readonly Step<T>[];
}

const MOST = 500;

export const emptyHistory = <T>(): History<T> => ({ done: [], undone: [] });

/** Adds a step; steps of one `series` (typing, dragging) that follow each other become one. */
export const withStep = <T>(h: History<T>, step: Step<T>, merge = false): History<T> => {
  const last = h.done[h.done.length - 1];
  // What came from elsewhere in between is not part of the step.
  const goesOn = merge && last?.name === step.name && last.after === step.before;
  const done = goesOn ? [...h.done.slice(0, -1), { ...step, before: last.before }] : [...h.done, step];
  return { done: done.slice(-MOST), undone: [] };
};

/** The present state with the change from one state to another made in it as well; or why it cannot be. */
export type Carry<T> = (present: T, from: T, to: T) => { state: T } | { clash: string };

/**
 * What comes of going a step back or forth: the state, or why the step
 * no longer fits what others have done since. It is given up then.
 */
export interface Travelled<T> {
  history: History<T>;
  name: string;
  state?: T;
  clash?: string;
}

function travel<T>(present: T, from: T, to: T, carry: Carry<T>): { state?: T; clash?: string } {
  return present === from ? { state: to } : carry(present, from, to);
}

/** One's own last step is taken back in the present state; what others have changed meanwhile stays. */
export const undo = <T>(h: History<T>, present: T, carry: Carry<T>): Travelled<T> | undefined => {
  const step = h.done[h.done.length - 1];
  if (!step) return undefined;
  const r = travel(present, step.after, step.before, carry);
  const undone = r.clash === undefined ? [...h.undone, step] : h.undone;
  return { history: { done: h.done.slice(0, -1), undone }, name: step.name, ...r };
};

export const redo = <T>(h: History<T>, present: T, carry: Carry<T>): Travelled<T> | undefined => {
  const step = h.undone[h.undone.length - 1];
  if (!step) return undefined;
  const r = travel(present, step.before, step.after, carry);
  const done = r.clash === undefined ? [...h.done, step] : h.done;
  return { history: { done, undone: h.undone.slice(0, -1) }, name: step.name, ...r };
};
