const TROUBLE: Readonly<Record<string, string>> = {
  away: $localize`That sign-in service does not answer just now: try again, or sign in with your passphrase`,
  late: $localize`That sign-in was not begun here or took too long: begin it again`,
  refused: $localize`The sign-in service did not confirm the sign-in: begin it again`,
  role: $localize`Your account there may not use Unirota: ask whoever runs this server`,
  closed: $localize`Your account here is closed: ask an administrator`,
  taken: $localize`That identity belongs to another account here: sign in with it instead`,
};

/** Why a sign-in at an issuer came to nothing, as the address of the page says; nothing where it says nothing. */
export function signOnTrouble(): string {
  const why = new URL(location.href).searchParams.get('signOn');
  return why !== null && Object.hasOwn(TROUBLE, why) ? TROUBLE[why] : '';
}
