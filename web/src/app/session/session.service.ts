import { Injectable, inject, signal } from '@angular/core';
import { type Observable, tap } from 'rxjs';
import type { SessionAnswer } from '@unirota/contract';
import { ApiService } from '../services/api.service';

/** Who is here. Without accounts nobody needs to say. */
@Injectable({ providedIn: 'root' })
export class SessionService {
  private readonly api = inject(ApiService);
  /** Undefined until the server has said. */
  readonly session = signal<SessionAnswer | undefined>(undefined);
  readonly trouble = signal('');

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
}
