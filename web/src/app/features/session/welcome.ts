import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { SessionService } from '../../state/session.service';
import { signOnTrouble } from '../../state/sign-on-trouble';
import { SignInForm } from './sign-in-form';

/** What whoever is not signed in sees. */
@Component({
  selector: 'uni-welcome',
  imports: [SignInForm],
  template: `
    <main>
      <h1 i18n><img src="unirota.svg" alt="" width="28" height="28" /> Unirota</h1>
      <p i18n class="soft">Design, move and check drive trains.</p>
      <section aria-labelledby="sign-in">
        <h2 i18n id="sign-in">Sign in</h2>
        @if (session.session()?.empty) {
          <p i18n>
            Nobody has an account here yet. Whoever runs this server makes the first administrator’s link on its command line:
            <code>npm run administrator</code>
          </p>
        }
        @if (trouble) {
          <p class="trouble" role="alert">{{ trouble }}</p>
        }
        @if (!session.session()?.empty || session.session()?.issuers) {
          <uni-sign-in-form />
          <p i18n class="soft">No account, or the passphrase is forgotten? An administrator of this server has a link for you.</p>
        }
      </section>
    </main>
  `,
  styles: `
    main {
      max-width: 420px;
      margin: 12vh auto 0;
      padding: 0 20px;
    }
    h1 {
      display: flex;
      gap: 10px;
      align-items: center;
      font-size: 24px;
    }
    section {
      margin-top: 18px;
      padding: 14px 18px 18px;
      background: var(--sheet);
      border: 1px solid var(--rule);
      border-top: 2px solid var(--ink);
      border-radius: 3px;
    }
    h2 {
      margin-bottom: 10px;
    }
    code {
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Welcome {
  protected readonly session = inject(SessionService);
  /** Why a sign-in at an issuer came to nothing. */
  protected readonly trouble = signOnTrouble();
}
