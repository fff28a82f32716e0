import { createHash, randomBytes } from 'node:crypto';

/** The secret in a link that is given away once; only its hash is kept. */
export const newLinkKey = (): string => randomBytes(24).toString('base64url');

export const hashLinkKey = (key: string): string => createHash('sha256').update(key).digest('hex');
