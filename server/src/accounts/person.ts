/** Who asks. */
export interface Person {
  readonly id: string;
  readonly name: string;
  readonly role: 'administrator' | 'member';
}

/** The one person of a server without accounts: whoever sits at the machine. */
export const LOCAL_ID = '00000000-0000-4000-8000-000000000000';
export const LOCAL: Person = { id: LOCAL_ID, name: '', role: 'administrator' };
