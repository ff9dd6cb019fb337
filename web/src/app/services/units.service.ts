import { Injectable, signal } from '@angular/core';
import { Units } from '@unirota/core/units';

/** The units of the design that is open: fields, figures and charts show quantities in them. */
@Injectable({ providedIn: 'root' })
export class UnitsService {
  readonly now = signal(new Units());
}
