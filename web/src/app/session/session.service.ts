import { Injectable, Injector, inject, signal } from '@angular/core';
import { Observable, defer, from, switchMap, tap } from 'rxjs';
import type { SessionAnswer } from '@unirota/contract';
import { ApiService } from '../services/api.service';
import { SignInGate } from '../services/sign-in-gate';

/** Who is here. Without accounts nobody needs to say. */
@Injectable({ providedIn: 'root' })
export class SessionService {
  private readonly api = inject(ApiService);
  private readonly injector = inject(Injector);
  /** Undefined until the server has said. */
  readonly session = signal<SessionAnswer | undefined>(undefined);
  readonly trouble = signal('');

  constructor() {
    inject(SignInGate).open(() => this.askAgain());
  }

  load(): void {
    this.api.session().subscribe({
      next: (s) => {
        this.trouble.set('');
        this.session.set(s);
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  signIn(login: string, passphrase: string): Observable<SessionAnswer> {
    return this.api.signIn({ login, passphrase }).pipe(tap((s) => this.session.set(s)));
  }

  /** Signs out here, or everywhere; the page starts afresh, so that nothing of one person is left for the next. */
  signOut(everywhere = false): void {
    (everywhere ? this.api.signOutEverywhere() : this.api.signOut()).subscribe({
      next: () => location.assign('/'),
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  /** The session has ended in the middle of work: asks over the page, which stays as it is. */
  private askAgain(): Observable<boolean> {
    return defer(() => from(import('./sign-in-dialog'))).pipe(
      switchMap((m) => m.openSignIn(this.injector)),
      switchMap(async (done) => done === true),
    );
  }
}
