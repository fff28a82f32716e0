/** An expected refusal is a value; an exception means a bug or an outage. */
export type Result<T, Refusal> = { ok: true; value: T } | { ok: false; reason: Refusal };

export const ok = <T>(value: T): { ok: true; value: T } => ({ ok: true, value });
export const refuse = <R>(reason: R): { ok: false; reason: R } => ({ ok: false, reason });

export function assertNever(value: never): never {
  throw new Error(`Unexpected value: ${JSON.stringify(value)}`);
}
