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
  const done = merge && last?.name === step.name ? [...h.done.slice(0, -1), { ...step, before: last.before }] : [...h.done, step];
  return { done: done.slice(-MOST), undone: [] };
};

export const undo = <T>(h: History<T>): { history: History<T>; state: T; name: string } | undefined => {
  const step = h.done[h.done.length - 1];
  return step && { history: { done: h.done.slice(0, -1), undone: [...h.undone, step] }, state: step.before, name: step.name };
};

export const redo = <T>(h: History<T>): { history: History<T>; state: T; name: string } | undefined => {
  const step = h.undone[h.undone.length - 1];
  return step && { history: { done: [...h.done, step], undone: h.undone.slice(0, -1) }, state: step.after, name: step.name };
};
