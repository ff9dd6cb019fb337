import { createHash } from 'node:crypto';
import * as oidc from 'openid-client';
import type { Database } from '../database/database';
import type { Issuer } from '../issuers';
import { NotTheirs, type People } from './people';
import type { Person } from './person';
import type { Sessions } from './sessions';
import { tokenHash } from './token';

/**
 * How long somebody may take at the issuer, ms; how long an issuer may take to answer, s; how long what it says of itself is
 * believed, ms.
 */
const WITHIN = 10 * 60_000;
const ANSWER_WITHIN = 10;
const BELIEVED = 3_600_000;
const LONGEST_NAME = 120;

/** Why somebody is not signed in: a word that the page knows. */
export type SignOnTrouble = 'away' | 'late' | 'refused' | 'role' | 'closed' | 'taken';
export class NotSignedOn extends Error {
  constructor(
    readonly why: SignOnTrouble,
    cause?: unknown,
  ) {
    super(why, { cause });
  }
}

/** A sign-in that begins: where the browser goes, and what it brings back with it. */
export interface Begun {
  readonly address: URL;
  readonly state: string;
}
export interface SignedOn {
  readonly session: string;
  readonly person: Person;
  readonly backTo: string;
}

/** A place of our own page; nothing that leads elsewhere. */
export const ownPlace = (to: unknown): string =>
  typeof to === 'string' && /^\/(?![/\\])[\w\-./]{0,190}$/.test(to) && !to.startsWith('/api') ? to : '/';

/**
 * Signing in at an issuer of OpenID Connect: authorization code with PKCE, state and nonce (OpenID Connect Core 1.0, 3.1; RFC
 * 7636). What is pending stands in the database, so that any server takes the answer.
 */
export class SignOn {
  private readonly known = new Map<string, { at: number; config: Promise<oidc.Configuration> }>();

  constructor(
    private readonly database: Database,
    private readonly people: People,
    private readonly sessions: Sessions,
    readonly issuers: readonly Issuer[],
  ) {}

  of(id: string): Issuer | undefined {
    return this.issuers.find((i) => i.id === id);
  }

  private config(issuer: Issuer): Promise<oidc.Configuration> {
    const had = this.known.get(issuer.id);
    if (had && Date.now() - had.at < BELIEVED) return had.config;
    const { clientId, clientSecret } = issuer;
    const config = oidc
      .discovery(new URL(issuer.issuer), clientId, undefined, clientSecret === undefined ? oidc.None() : oidc.ClientSecretBasic(clientSecret), {
        timeout: ANSWER_WITHIN,
        // Only an issuer on this machine is named without TLS (`issuersIn`).
        execute: issuer.issuer.startsWith('http:') ? [oidc.allowInsecureRequests] : [],
      })
      .catch((e: unknown) => {
        this.known.delete(issuer.id);
        throw new NotSignedOn('away', e);
      });
    this.known.set(issuer.id, { at: Date.now(), config });
    return config;
  }

  /**
   * Begins a sign-in that comes back to `callback` and ends at `backTo`; for whoever is signed in, it adds the identity to the
   * account.
   */
  async begin(issuer: Issuer, callback: string, backTo: string, person: Person | undefined): Promise<Begun> {
    const config = await this.config(issuer);
    const [verifier, nonce, state] = [oidc.randomPKCECodeVerifier(), oidc.randomNonce(), oidc.randomState()];
    await this.database.change(
      `INSERT INTO sign_ons (state_hash, issuer, verifier, nonce, person_id, back_to, begun_at)
       VALUES (:hash, :issuer, :verifier, :nonce, :person, :backTo, :now)`,
      { hash: tokenHash(state), issuer: issuer.id, verifier, nonce, person: person?.id ?? null, backTo, now: new Date() },
    );
    const address = oidc.buildAuthorizationUrl(config, {
      redirect_uri: callback,
      scope: `openid ${issuer.scope ?? 'profile email'}`,
      code_challenge: await oidc.calculatePKCECodeChallenge(verifier),
      code_challenge_method: 'S256',
      state,
      nonce,
    });
    return { address, state };
  }

  /** Takes the issuer's answer, which came to `url` in the browser that holds `state`. It is taken once. */
  async take(issuer: Issuer, url: URL, state: string): Promise<SignedOn> {
    const hash = tokenHash(state);
    const pending = await this.database.transaction(async (s) => {
      const [row] = await s.rows<{ verifier: string; nonce: string; person_id: string | null; back_to: string; begun_at: Date }>(
        'SELECT verifier, nonce, person_id, back_to, begun_at FROM sign_ons WHERE state_hash = :hash AND issuer = :issuer FOR UPDATE',
        { hash, issuer: issuer.id },
      );
      if (row) await s.change('DELETE FROM sign_ons WHERE state_hash = :hash', { hash });
      return row;
    });
    if (!pending || Date.now() - pending.begun_at.getTime() > WITHIN) throw new NotSignedOn('late');
    const config = await this.config(issuer);
    const checks = { pkceCodeVerifier: pending.verifier, expectedNonce: pending.nonce, expectedState: state, idTokenExpected: true };
    const tokens = await oidc.authorizationCodeGrant(config, url, checks).catch((e: unknown) => {
      throw new NotSignedOn(e instanceof oidc.ClientError && e.code === 'OAUTH_TIMEOUT' ? 'away' : 'refused', e);
    });
    const claims = tokens.claims()!;
    const role = roleIn(issuer, claims);
    const text = (claim: string): string => (typeof claims[claim] === 'string' ? clean(claims[claim]) : '');
    const name = text('name') || text('preferred_username') || text('email') || claims.sub.slice(0, LONGEST_NAME);
    const identity = {
      issuer: createHash('sha256').update(config.serverMetadata().issuer).digest(),
      subject: claims.sub,
      name,
      login: (text('preferred_username') || text('email') || name).replace(/\s/gu, '.'),
      ...(role === undefined ? {} : { role }),
    };
    const person = await this.people.signedOn(identity, pending.person_id ?? undefined).catch((e: unknown) => {
      throw e instanceof NotTheirs ? new NotSignedOn(e.why, e) : e;
    });
    const session = await this.sessions.begin(person.id, undefined, { issuer: issuer.id, idToken: tokens.id_token! });
    return { session, person, backTo: pending.back_to };
  }

  /**
   * Where the browser goes to sign out at the issuer too, and then comes back to `back`; undefined where it has no such
   * place.
   */
  async leaving(id: string, idToken: string, back: string): Promise<string | undefined> {
    const issuer = this.of(id);
    if (!issuer) return undefined;
    try {
      const config = await this.config(issuer);
      if (!config.serverMetadata().end_session_endpoint) return undefined;
      return oidc.buildEndSessionUrl(config, { id_token_hint: idToken, post_logout_redirect_uri: back }).href;
    } catch {
      // An issuer that is away keeps nobody signed in here.
      return undefined;
    }
  }

  async sweep(): Promise<void> {
    await this.database.change('DELETE FROM sign_ons WHERE begun_at < :old LIMIT 5000', { old: new Date(Date.now() - WITHIN) });
  }
}

/** Without what cannot be in a name. */
const clean = (text: string): string => text.normalize('NFC').replace(/\p{C}/gu, '').trim().slice(0, LONGEST_NAME);

/** The role that an issuer gives; undefined where it says nothing of roles. Refuses whom it gives none of those that come in. */
function roleIn({ roleClaim, administrators = [], members }: Issuer, claims: Readonly<Record<string, unknown>>): Person['role'] | undefined {
  if (!roleClaim) return undefined;
  const said = claims[roleClaim];
  const roles = Array.isArray(said) ? said : [said];
  if (administrators.some((r) => roles.includes(r))) return 'administrator';
  if (members && !members.some((r) => roles.includes(r))) throw new NotSignedOn('role');
  return 'member';
}
