/** How often it is tried to put the caret into a field that is still being shown or unfolded, and after how long again, ms. */
const TRIES = 30,
  AGAIN = 80;

/** Where the caret goes for a field of the data sheet: its control, or the first one of a field that has several. */
function controlOf(key: string): HTMLElement | null {
  const one = document.getElementById(`f-${key}`);
  const label = document.getElementById(`l-${key}`);
  return one ?? label?.parentElement?.querySelector<HTMLElement>('input, textarea, [role=combobox], button') ?? null;
}

/** Puts the caret into a field of the data sheet as soon as it is there; what it is folded away in is unfolded. */
export function intoField(key: string): void {
  let unfolded = false;
  const take = (left: number): void => {
    const again = (): unknown => left > 0 && setTimeout(() => take(left - 1), AGAIN);
    const control = controlOf(key);
    if (!control) return void again();
    const shut = control.closest('mat-expansion-panel')?.querySelector<HTMLElement>('mat-expansion-panel-header[aria-expanded=false]');
    if (!unfolded) shut?.click();
    unfolded = true;
    control.scrollIntoView({ block: 'center' });
    control.focus();
    // What is folded away takes the caret once it is unfolded.
    if (document.activeElement !== control) again();
    else if (control instanceof HTMLInputElement) control.select();
  };
  setTimeout(() => take(TRIES));
}
