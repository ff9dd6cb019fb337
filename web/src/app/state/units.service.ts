import { Injectable, signal } from '@angular/core';
import { type Names, Units } from '@unirota/core/units';
import { remember, remembered } from '../engine/browser-memory';

const KEY = 'unirota.both-systems';

/** The units of the design that is open: fields, figures and charts show quantities in them. */
@Injectable({ providedIn: 'root' })
export class UnitsService {
  readonly now = signal(new Units());
  /** What the names stand for that formulas in fields may use. */
  readonly names = signal<Names | undefined>(undefined);
  /** Whether fields say what they come to in the other system as well; for this browser. */
  readonly both = signal(remembered(KEY) === 'yes');

  showBoth(on: boolean): void {
    this.both.set(on);
    remember(KEY, on ? 'yes' : 'no');
  }
}
