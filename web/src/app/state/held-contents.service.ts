import { Injectable, signal } from '@angular/core';

/** Counts the contents of imported shapes that have come to this machine: what was worked out without them is worked out again. */
@Injectable({ providedIn: 'root' })
export class HeldContents {
  readonly arrived = signal(0);
}
