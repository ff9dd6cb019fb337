import { DestroyRef, type ElementRef, afterEveryRender } from '@angular/core';

/** Parts of the page that take the focus when what had it is gone. */
const PARTS = 'uni-train-map, main, aside, uni-crank-deck, header, nav';
/** How long a dialog may take to give the focus back, ms. */
const PATIENCE = 150;

/**
 * Keeps the focus from falling to the body when what had it is taken off the page:
 * the part of the page that it was in takes it. Call while a component is made.
 */
export function keepFocus({ nativeElement: host }: ElementRef<HTMLElement>, destroy: DestroyRef): void {
  let part: HTMLElement | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const lost = (): boolean => document.activeElement === document.body || document.activeElement === null;
  const seen = (e: FocusEvent): void => {
    part = (e.target as HTMLElement).closest<HTMLElement>(PARTS);
  };
  const take = (): void => {
    timer = undefined;
    if (!lost() || !document.hasFocus()) return;
    const to = part?.isConnected ? part : host.querySelector('main');
    if (!to) return;
    if (!to.hasAttribute('tabindex')) to.setAttribute('tabindex', '-1');
    to.focus({ preventScroll: true });
  };
  host.addEventListener('focusin', seen);
  // Before anything has had the focus there is nothing to keep.
  afterEveryRender(() => {
    if (part && lost()) timer ??= setTimeout(take, PATIENCE);
  });
  destroy.onDestroy(() => {
    host.removeEventListener('focusin', seen);
    clearTimeout(timer);
  });
}
