import { readFileSync } from 'node:fs';
import { isLoopback } from './loopback';
import { ValidationError, array, object, string } from 'yup';

/** An issuer of OpenID Connect with which people may sign in. */
export interface Issuer {
  /** Stands in addresses. */
  readonly id: string;
  /** Stands on the button. */
  readonly name: string;
  readonly issuer: string;
  readonly clientId: string;
  readonly clientSecret?: string;
  /** What is asked for besides `openid`. */
  readonly scope?: string;
  /** The claim that names a person's roles: a text, or a list of them. */
  readonly roleClaim?: string;
  /** Values of it that make an administrator; and those without one of which nobody comes in. */
  readonly administrators?: readonly string[];
  readonly members?: readonly string[];
}

const words = array().of(string().strict().required().max(200)).strict().max(50).optional();
const schema = array()
  .of(
    object({
      id: string()
        .strict()
        .required()
        .matches(/^[a-z0-9-]{1,40}$/, 'id must be of small letters, digits and hyphens'),
      name: string().strict().required().max(60),
      issuer: string()
        .strict()
        .required()
        .max(500)
        .test('address', 'issuer must be an address', (v) => URL.canParse(v ?? '')),
      clientId: string().strict().required().max(500),
      clientSecret: string().strict().optional().max(2000),
      scope: string().strict().optional().max(500),
      roleClaim: string().strict().optional().max(200),
      administrators: words,
      members: words,
    }).noUnknown(true, ({ unknown }) => `there is no field ${unknown}`),
  )
  .strict()
  .required()
  .max(20);

/** The issuers that a file states, as a JSON list. Throws a sentence for whoever starts the server. */
export function issuersIn(file: string): Issuer[] {
  let list: Issuer[];
  try {
    list = schema.validateSync(JSON.parse(readFileSync(file, 'utf8')), { strict: true }) as Issuer[];
  } catch (e) {
    throw new Error(e instanceof ValidationError || e instanceof SyntaxError ? e.message : 'the file cannot be read', { cause: e });
  }
  for (const { id, issuer, roleClaim, administrators, members } of list) {
    const { protocol, hostname } = new URL(issuer);
    if (protocol !== 'https:' && !(protocol === 'http:' && isLoopback(hostname))) throw new Error(`issuer of “${id}” must begin with https://`);
    if ((administrators ?? members) && !roleClaim) throw new Error(`“${id}” names roles, but no roleClaim`);
  }
  if (new Set(list.map((i) => i.id)).size < list.length) throw new Error('two issuers have one id');
  return list;
}
