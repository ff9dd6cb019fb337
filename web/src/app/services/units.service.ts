import { Injectable, signal } from '@angular/core';
import { Units } from '@unirota/core/units';

const KEY = 'unirota.both-systems';

function stored(): boolean {
  try {
    return localStorage.getItem(KEY) === 'yes';
  } catch {
    return false;
  }
}

/** The units of the design that is open: fields, figures and charts show quantities in them. */
@Injectable({ providedIn: 'root' })
export class UnitsService {
  readonly now = signal(new Units());
  /** Whether fields say what they come to in the other system as well; for this browser. */
  readonly both = signal(stored());

  showBoth(on: boolean): void {
    this.both.set(on);
    try {
      localStorage.setItem(KEY, on ? 'yes' : 'no');
    } catch {
      // Where the browser keeps nothing, it holds for this visit.
    }
  }
}
