/**
 * Our own addresses, all at one domain. What comes to them says what it is about: a notice of failure, a wish to leave,
 * or an answer to a workspace.
 */
export type OwnAddress = { kind: 'bounce' | 'leave'; token: string } | { kind: 'answers'; workspace: string };

export const bounceAddress = (token: string, domain: string): string => `bounce+${token}@${domain}`;
export const leaveAddress = (token: string, domain: string): string => `leave+${token}@${domain}`;
export const answersAddress = (workspace: string, domain: string): string => `answers+${workspace}@${domain}`;
export const messageIdOf = (token: string, domain: string): string => `<${token}@${domain}>`;

/** Which of our addresses this is; null: none that we know of. */
export function readOwnAddress(address: string, domain: string): OwnAddress | null {
  const match = /^(bounce|leave|answers)\+([a-z0-9-]{1,60})@(.+)$/.exec(address.toLowerCase());
  if (!match || match[3] !== domain) return null;
  const [, kind, name] = match as unknown as [string, 'bounce' | 'leave' | 'answers', string];
  return kind === 'answers' ? { kind, workspace: name } : { kind, token: name };
}

/** The token in the id of a letter of ours; null: it is somebody else's. */
export function tokenOf(messageId: string, domain: string): string | null {
  const match = /^<([a-z0-9-]{1,60})@([^<>@\s]+)>$/i.exec(messageId);
  return match && match[2]!.toLowerCase() === domain ? match[1]!.toLowerCase() : null;
}
