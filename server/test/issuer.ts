import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import Provider from 'oidc-provider';

export interface IssuedPerson {
  readonly name?: string;
  readonly email?: string;
  readonly preferred_username?: string;
  readonly roles?: readonly string[];
}

/** A real issuer of OpenID Connect on loopback, which signs in whomever `as` names without asking. */
export class TestIssuer {
  /** The account that is signed in next. */
  as = '';
  /** What the authorization requests asked for, the last one last. */
  readonly asked: URLSearchParams[] = [];
  ended = 0;
  private constructor(
    readonly url: string,
    private readonly server: Server,
    readonly people: Map<string, IssuedPerson>,
  ) {}

  static async open(clientId: string, redirects: string[], people: Record<string, IssuedPerson>, port = 0): Promise<TestIssuer> {
    let handle: (req: IncomingMessage, res: ServerResponse) => void = (_q, r) => void r.end();
    const server = createServer((req, res) => handle(req, res)).listen(port, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const issuer = new TestIssuer(url, server, new Map(Object.entries(people)));
    const provider = new Provider(url, {
      clients: [
        {
          client_id: clientId,
          client_secret: 'a secret of the test',
          redirect_uris: redirects.map((r) => `${r}/api/sign-on/works/callback`),
          post_logout_redirect_uris: redirects.map((r) => `${r}/`),
        },
      ],
      claims: { openid: ['sub'], profile: ['name', 'preferred_username', 'roles'], email: ['email'] },
      conformIdTokenClaims: false,
      pkce: { required: () => true },
      features: {
        devInteractions: { enabled: false },
        rpInitiatedLogout: {
          enabled: true,
          // Asked nothing: the form posts itself at once.
          logoutSource: (ctx, form) => {
            ctx.body = `<!doctype html><title>Sign out</title><body>${form}<button form="op.logoutForm" name="logout" value="yes">Yes, sign me out</button>`;
          },
        },
      },
      cookies: { keys: ['a key of the test'] },
      interactions: { url: (_ctx, interaction) => `/interaction/${interaction.uid}` },
      findAccount: (_ctx, id) => ({ accountId: id, claims: () => ({ sub: id, ...issuer.people.get(id) }) as never }),
      loadExistingGrant: async (ctx) => {
        const grant = new ctx.oidc.provider.Grant({ clientId: ctx.oidc.client!.clientId, accountId: ctx.oidc.session!.accountId! });
        grant.addOIDCScope('openid profile email');
        await grant.save();
        return grant;
      },
    });
    provider.on('end_session.success', () => issuer.ended++);
    const answer = provider.callback();
    handle = (req, res) => {
      const at = new URL(req.url!, url);
      if (at.pathname === '/auth') issuer.asked.push(at.searchParams);
      if (!at.pathname.startsWith('/interaction/')) return void answer(req, res);
      provider.interactionFinished(req, res, { login: { accountId: issuer.as } }, { mergeWithLastSubmission: false }).catch(() => res.end());
    };
    return issuer;
  }

  async close(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise((r) => this.server.close(r));
  }
}
