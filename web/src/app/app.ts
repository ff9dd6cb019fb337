import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { RouterOutlet } from '@angular/router';
import { defer, from, map, switchMap } from 'rxjs';
import { SessionService } from './state/session.service';
import { Welcome } from './features/session/welcome';
import { SignInGate } from './state/sign-in-gate';
import { ThemeService } from './state/theme.service';

/** The page: whoever must sign in and has not, sees where. */
@Component({
  selector: 'uni-root',
  imports: [RouterOutlet, Welcome],
  template: `
    @if (shown() === 'welcome') {
      @defer (on immediate) {
        <uni-welcome />
      }
    } @else if (shown() === 'page') {
      <router-outlet />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class App {
  private readonly session = inject(SessionService);
  /**
   * Who has an invitation comes in by its link. Without an answer the page goes on: work that is kept here can be gone on
   * with.
   */
  protected readonly shown = computed(() => {
    const s = this.session.session();
    if (location.pathname.startsWith('/join') && !s?.person) return 'page';
    if (!s) return this.session.trouble() ? 'page' : 'waiting';
    return s.accounts && !s.person ? 'welcome' : 'page';
  });

  constructor() {
    inject(ThemeService);
    const injector = inject(Injector);
    // A session that has ended in the middle of work is begun again over the page, which stays as it is.
    inject(SignInGate).open(() =>
      defer(() => from(import('./features/session/sign-in-dialog'))).pipe(
        switchMap((m) => m.openSignIn(injector)),
        map((done) => done === true),
      ),
    );
    this.session.load();
  }
}
