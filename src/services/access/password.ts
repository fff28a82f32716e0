import { hash, verify } from '@node-rs/argon2';

/** argon2id with the parameters OWASP recommends (19 MiB, two passes, one lane). */
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, OPTIONS);

/** False for a wrong password; a hash that cannot be read is wrong too. */
export async function verifyPassword(stored: string, password: string): Promise<boolean> {
  try {
    return await verify(stored, password);
  } catch {
    return false;
  }
}
