import { Injectable, computed, inject, signal } from '@angular/core';
import { type Observable, map, tap } from 'rxjs';
import { ROUTES, type SessionAnswer, type SignOutAnswer } from '@unirota/contract';
import { remember, remembered } from '../engine/browser-memory';
import { OWNER_KEY } from '../engine/owner';
import { ApiService } from './api.service';

/** The last person at this browser, so that work goes on while the server is away. */
/** Whoever was here has signed out. */
const NOBODY = 'nobody';
/** Who is here. Without accounts nobody needs to say. */
@Injectable({ providedIn: 'root' })
export class SessionService {
  private readonly api = inject(ApiService);
  /** Undefined until the server has said. */
  readonly session = signal<SessionAnswer | undefined>(undefined);
  readonly trouble = signal('');

  /** Issuers with which one may sign in, and where that begins; the browser comes back to where it is now. */
  readonly issuers = computed(() =>
    (this.session()?.issuers ?? []).map((i) => ({ ...i, address: `${ROUTES.signOn(i.id)}?to=${encodeURIComponent(location.pathname)}` })),
  );

  load(): void {
    this.api.session().subscribe({
      next: (s) => {
        this.trouble.set('');
        this.session.set(s);
        remember(OWNER_KEY, s.person?.id ?? '');
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  signIn(login: string, passphrase: string): Observable<SessionAnswer> {
    const before = this.owner();
    return this.api.signIn({ login, passphrase }).pipe(
      tap((s) => {
        remember(OWNER_KEY, s.person?.id ?? '');
        // What the page holds is the other person's: it stays in his drafts.
        if (before && before !== NOBODY && before !== s.person?.id) location.assign('/');
        else this.session.set(s);
      }),
    );
  }

  /**
   * Whose drafts are opened: of the person who is signed in; while the server does not answer, of the last who was.
   * Nobody's where nobody signs in.
   */
  owner(): string {
    const s = this.session();
    return s ? (s.person?.id ?? '') : (remembered(OWNER_KEY) ?? '');
  }

  /** Signs out here, or everywhere; the page starts afresh, so that nothing of one person is left for the next. */
  signOut(everywhere = false): void {
    const out: Observable<SignOutAnswer | undefined> = everywhere ? this.api.signOutEverywhere().pipe(map(() => undefined)) : this.api.signOut();
    out.subscribe({
      next: (answer) => {
        const owner = this.owner();
        remember(OWNER_KEY, NOBODY);
        // Copies of designs go with the person; work that the server has not got stays in their drafts.
        void Promise.all([import('./drafts'), import('../engine/shape-contents')])
          .then(([{ Drafts }, { ShapeContents }]) => Promise.all([new Drafts(owner).dropCopies(), new ShapeContents(owner).drop()]))
          .catch(() => undefined)
          .finally(() => location.assign(answer?.leave ?? '/'));
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }
}
