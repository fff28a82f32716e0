/** Who does something: their name in the audit, and the account behind it if a person signed in. */
export interface Actor {
  name: string;
  accountId: string | null;
}
