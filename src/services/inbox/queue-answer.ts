import type { Answer, ReplyDecision } from '@/core/reply/decide';
import {
  confirmationText,
  doubleOptInText,
  helpText,
  keywordNotice,
  nearMissText,
  leftOneText,
  optOutText,
  resumedText,
  type ProgramWording,
} from '@/core/text/wording';
import { broughtBy } from '@/db/offers/vouchers';
import type { KeywordRow, Program } from '@/db/programs/entities';
import type { Workspace } from '@/db/access/entities';
import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { newText } from '@/services/delivery/new-text';
import { freeChat, newChat } from '@/services/delivery/new-chat';
import { insertChats } from '@/db/chat/chats';
import { ChatAccount } from '@/db/chat/entities';
import type { Via } from './standing';
import { wordingOf } from '@/services/programs/wording';
import type { Context } from '@/services/kit/context';
import type { Given } from '@/services/offers/first-words';

interface Answering {
  answers: ReplyDecision['answers'];
  personId: string;
  /** Where it goes: the number they wrote from. */
  address: string;
  /** What they wrote to: the answer comes from it. */
  via: Via;
  inboundId: string | null;
  workspace: Workspace;
  programs: readonly Program[];
  /** The keyword they typed, or nearly typed. */
  keyword?: KeywordRow | null;
  /** What keywords and forms gave them: their first words stand before those of the program. */
  given?: readonly Given[];
  /** They wrote some time ago: what is said now keeps the hours of the law. */
  late?: boolean;
}

/** Queues the automatic answers to a text. They are cleared like every text when they leave. */
export async function queueAnswers(ctx: Context, scope: Scope, answering: Answering): Promise<void> {
  const bringing: { vouchers: string[]; messageId: string }[] = [];
  const { via } = answering;
  const chat =
    via.channel === 'chat' ? await scope.em.findOneOrFail(ChatAccount, { id: via.accountId }) : null;
  const texts = answering.answers.map((answer) => {
    const program = answering.programs.find(({ id }) => id === answer.programId)!;
    const kind = answering.late ? ('late-answer' as const) : answer.kind;
    const body = automaticBody(answer, program, answering);
    const single = { ...answering, programId: program.id, kind, body, createdBy: null };
    const text =
      via.channel === 'sms'
        ? newText(ctx, { ...single, senderId: via.senderId })
        : newChat(ctx, { ...single, credits: chat!.prices.conversation });
    const vouchers = givenIn(answering, answer).flatMap(({ voucherId }) => voucherId ?? []);
    if (vouchers.length > 0) bringing.push({ vouchers, messageId: text.id });
    return text;
  });
  await insertTexts(scope, texts);
  if (via.channel === 'chat')
    await insertChats(
      scope,
      texts.map(({ id }) => freeChat(id, via.accountId)),
    );
  for (const { vouchers, messageId } of bringing) await broughtBy(scope, vouchers, messageId);
}

const givenIn = ({ given = [] }: Answering, { kind, programId }: Answer): Given[] =>
  kind === 'confirmation' ? given.filter((one) => one.programId === programId) : [];

function automaticBody(answer: Answer, program: Program, answering: Answering): string {
  const { workspace } = answering;
  const wording = wordingOf(workspace, program);
  switch (answer.kind) {
    case 'confirmation': {
      const own = givenIn(answering, answer).map(({ firstWords }) => firstWords);
      const first = own.length > 0 ? own.join(' ') : program.welcome;
      return answer.resumed ? resumedText(wording) : confirmationText(wording, first);
    }
    case 'notice':
      return noticeBody(answer, wording, answering);
    case 'question':
      return doubleOptInText(wording);
    case 'opt-out-confirmation':
      return answer.about === 'one' ? leftOneText(wording) : optOutText(workspace.business);
    case 'help':
      return helpText(wording);
    case 'answer':
    case 'asking':
    case 'asking-again':
    case 'broadcast':
    case 'call-answer':
    case 'call-text':
    case 'late-answer':
    case 'other-number':
    case 'sequence':
    case 'sequence-answer':
    case 'told':
    case 'trial':
      throw new Error(`A text of kind ${answer.kind} is not made automatically`);
  }
}

function noticeBody(
  { about }: Answer,
  wording: ProgramWording,
  { keyword, workspace }: Pick<Answering, 'keyword' | 'workspace'>,
): string {
  if (!keyword) throw new Error('A notice is about a keyword');
  if (about === 'near') return nearMissText(wording, keyword.word);
  const words = about === 'before' ? keyword.beforeWords : keyword.afterWords;
  const day = keyword.validFrom && dayWords(keyword.validFrom, workspace.zone);
  return keywordNotice(about === 'before' ? 'before' : 'after', {
    business: workspace.business,
    keyword: keyword.word,
    words,
    day,
  });
}

const dayWords = (at: Date, zone: string): string =>
  at.toLocaleDateString('en-US', { timeZone: zone, day: 'numeric', month: 'long' });
