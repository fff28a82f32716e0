import type { MessageKind } from '@/core/message/kinds';
import type { Millis } from '@/core/shared/instant';
import { measure } from '@/core/text/measure';
import type { Workspace } from '@/db/access/entities';
import type { NewText } from '@/db/delivery/texts';
import { hashBody } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';

interface SingleText {
  personId: string;
  address: string;
  programId: string;
  senderId: string | null;
  inboundId: string | null;
  workspace: Workspace;
  kind: MessageKind;
  body: string;
  createdBy: string | null;
  /** The files it carries as a picture message; left out or null: it is words. */
  media?: readonly string[] | null;
  /** When it may leave; left out: at once. */
  notBefore?: Millis;
}

/** The row of one text to one person. */
export function newText(
  ctx: Context,
  {
    personId,
    address,
    programId,
    senderId,
    inboundId,
    workspace,
    kind,
    body,
    createdBy,
    notBefore,
    media = null,
  }: SingleText,
): NewText {
  const at = new Date(ctx.now());
  const size = media
    ? { alphabet: null, parts: 1, credits: workspace.creditsPerPicture }
    : sizeOf(body, workspace);
  return {
    id: ctx.id('txt'),
    personId,
    programId,
    sendId: null,
    inReplyTo: inboundId,
    channel: 'sms',
    kind,
    address,
    senderId,
    body,
    bodyHash: hashBody(body),
    ...size,
    media,
    notBefore: notBefore === undefined ? at : new Date(notBefore),
    clearance: null,
    createdBy,
    createdAt: at,
  };
}

/** How large words are as a text, and what they usually cost. */
export function sizeOf(body: string, { creditsPerPart }: Workspace) {
  const { alphabet, parts } = measure(body);
  return { alphabet, parts, credits: parts * creditsPerPart };
}
