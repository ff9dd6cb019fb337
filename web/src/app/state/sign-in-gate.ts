import { Injectable } from '@angular/core';
import { Observable, of, shareReplay, tap } from 'rxjs';

/**
 * Where a session has ended in the middle of work: whoever can ask a person
 * to sign in stands here, and all that wait wait for the one answer.
 */
@Injectable({ providedIn: 'root' })
export class SignInGate {
  private ask?: () => Observable<boolean>;
  private asking?: Observable<boolean>;

  /** Tells how to ask. The page does, once it is there. */
  open(ask: () => Observable<boolean>): void {
    this.ask = ask;
  }

  /** True when somebody has signed in. */
  signIn(): Observable<boolean> {
    if (!this.ask) return of(false);
    this.asking ??= this.ask().pipe(tap({ finalize: () => (this.asking = undefined) }), shareReplay({ bufferSize: 1, refCount: true }));
    return this.asking;
  }
}
