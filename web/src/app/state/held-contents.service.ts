import { Injectable, signal } from '@angular/core';

/** Which contents of imported shapes have come to this machine: what was worked out without them is worked out again. */
@Injectable({ providedIn: 'root' })
export class HeldContents {
  readonly arrived = signal(0);
  /** Contents that are neither here nor on the server, by hash. */
  readonly missing = signal<ReadonlySet<string>>(new Set());
}
