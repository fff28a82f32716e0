import type { ReplyDecision } from '@/core/reply/decide';
import type { MessageKind } from '@/core/message/kinds';
import { creditsFor } from '@/core/text/cost';
import { measure } from '@/core/text/measure';
import { confirmationText, doubleOptInText, helpText, optOutText, resumedText } from '@/core/text/wording';
import type { Program } from '@/db/programs/entities';
import type { Workspace } from '@/db/access/entities';
import { insertTexts, type NewText } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { hashBody } from '@/services/clearance/clearance-facts';
import { wordingOf } from '@/services/programs/wording';
import type { Context } from '@/services/kit/context';

interface Answering {
  answers: ReplyDecision['answers'];
  personId: string;
  /** Where it goes: the number they wrote from. */
  address: string;
  /** The number they wrote to: the answer comes from it. */
  senderId: string;
  inboundId: string | null;
  workspace: Workspace;
  programs: readonly Program[];
}

/** Queues the automatic answers to a text. They are cleared like every text when they leave. */
export async function queueAnswers(ctx: Context, scope: Scope, answering: Answering): Promise<void> {
  const texts = answering.answers.map((answer) => {
    const program = answering.programs.find(({ id }) => id === answer.programId)!;
    const body = automaticBody(answer.kind, answer.resumed, answering.workspace, program);
    return newText(ctx, { ...answering, programId: program.id, kind: answer.kind, body, createdBy: null });
  });
  await insertTexts(scope, texts);
}

function automaticBody(kind: MessageKind, resumed: boolean, workspace: Workspace, program: Program): string {
  const wording = wordingOf(workspace, program);
  switch (kind) {
    case 'confirmation':
      return resumed ? resumedText(wording) : confirmationText(wording, program.welcome);
    case 'question':
      return doubleOptInText(wording);
    case 'opt-out-confirmation':
      return optOutText(workspace.business);
    case 'help':
      return helpText(wording);
    case 'answer':
    case 'broadcast':
    case 'sequence':
    case 'sequence-answer':
    case 'trial':
      throw new Error(`A text of kind ${kind} is not made automatically`);
  }
}

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
}

/** The row of one text to one person, due at once. */
export function newText(
  ctx: Context,
  { personId, address, programId, senderId, inboundId, workspace, kind, body, createdBy }: SingleText,
): NewText {
  const at = new Date(ctx.now());
  const { alphabet, parts } = measure(body);
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
    alphabet,
    parts,
    credits: creditsFor(parts, workspace.creditsPerPart),
    notBefore: at,
    clearance: null,
    createdBy,
    createdAt: at,
  };
}
