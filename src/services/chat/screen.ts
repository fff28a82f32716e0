import type { ChatLimits } from '@/core/chat/network';
import { CONVERSATION, openUntil } from '@/core/chat/window';
import type { Millis } from '@/core/shared/instant';
import { accountFacts } from '@/db/chat/chats';
import { ChatAccount, ChatReview, ChatTemplate, ChatWording } from '@/db/chat/entities';
import { windowsOf, wordingUses, type WordingUse } from '@/db/chat/used';
import type { Scope } from '@/db/kit/scope';
import { standingOf } from '@/services/clearance/chat-wordings';
import { benchNetwork } from '@/services/kit/settings';
import { wordingsOf } from './templates';

export interface AccountLine {
  account: ChatAccount;
  /** People it began with in the last day. */
  begun: number;
}

/** What ships with the installation, so that a stranger has something to try. */
export const benchOffer = () => {
  const url = benchNetwork();
  return url === null ? null : { url, account: 'juniper', token: 'bench' };
};

export async function readChatAccounts(scope: Scope, now: Millis): Promise<AccountLine[]> {
  const accounts = await scope.em.find(
    ChatAccount,
    { removedAt: null },
    { orderBy: { createdAt: 'asc', id: 'asc' } },
  );
  const facts = await accountFacts(scope, new Date(now - CONVERSATION));
  return accounts.map((account) => ({
    account,
    begun: facts.find(({ id }) => id === account.id)?.begun ?? 0,
  }));
}

export interface TemplateLine {
  template: ChatTemplate;
  account: string;
  /** Of each language the version that counts. */
  standing: ChatWording[];
  sent: number;
  read: number;
}

export async function readChatTemplates(scope: Scope): Promise<TemplateLine[]> {
  const templates = await scope.em.find(ChatTemplate, { archivedAt: null }, { orderBy: { name: 'asc' } });
  const wordings = await scope.em.find(
    ChatWording,
    { templateId: templates.map(({ id }) => id) },
    { orderBy: { createdAt: 'asc', version: 'asc' } },
  );
  const accounts = await scope.em.find(ChatAccount, {});
  const uses = await wordingUses(
    scope,
    wordings.map(({ id }) => id),
  );
  return templates.map((template) => {
    const own = wordings.filter(({ templateId }) => templateId === template.id);
    const ids = new Set(own.map(({ id }) => id));
    const used = uses.filter(({ wording_id: id }) => ids.has(id));
    const total = (of: (use: WordingUse) => number) => used.reduce((sum, use) => sum + of(use), 0);
    return {
      template,
      account: accounts.find(({ id }) => id === template.accountId)?.name ?? '',
      standing: standingOf(own),
      ...{ sent: total(({ sent }) => sent), read: total(({ read }) => read) },
    };
  });
}

export interface TemplateScreen {
  template: ChatTemplate;
  account: { name: string; limits: ChatLimits; state: string };
  /** Every version, the newest of a language first. */
  wordings: ChatWording[];
  uses: WordingUse[];
  /** The one that is looked at, and what happened to it. */
  shown: ChatWording;
  history: ChatReview[];
}

export async function readChatTemplate(
  scope: Scope,
  id: string,
  wordingId: string | null,
): Promise<TemplateScreen | null> {
  const template = await scope.em.findOne(ChatTemplate, { id });
  if (!template) return null;
  const wordings = await wordingsOf(scope, id);
  const account = await scope.em.findOneOrFail(ChatAccount, { id: template.accountId });
  const shown = wordings.find((one) => one.id === wordingId) ?? wordings.at(-1);
  if (!shown) return null;
  return {
    template,
    account: { name: account.name, limits: account.limits, state: account.state },
    wordings,
    uses: await wordingUses(
      scope,
      wordings.map((one) => one.id),
    ),
    shown,
    history: await scope.em.find(ChatReview, { wordingId: shown.id }, { orderBy: { at: 'asc', id: 'asc' } }),
  };
}

/** A template as a broadcast or a line of a sequence may go by. */
export interface ChatChoice {
  id: string;
  name: string;
  category: string;
  /** Its words in the language that stands first, and how each language stands. */
  body: string;
  languages: { language: string; state: ChatWording['state'] }[];
}

export async function readChatChoices(scope: Scope): Promise<ChatChoice[]> {
  return (await readChatTemplates(scope)).flatMap(({ template, standing }) =>
    standing[0]
      ? [
          {
            ...{
              id: template.id,
              name: template.name,
              category: template.category,
              body: standing[0].words.body,
            },
            languages: standing.map(({ language, state }) => ({ language, state })),
          },
        ]
      : [],
  );
}

/** The window of somebody’s chat: until when they may be answered in words of one’s own. Null: they have no chat. */
export interface ThreadWindow {
  account: string | null;
  /** Null: it is closed. */
  until: Millis | null;
}

export async function readThreadWindow(
  scope: Scope,
  personId: string,
  now: Millis,
): Promise<ThreadWindow | null> {
  const [last] = await windowsOf(scope, personId);
  if (last) return { account: last.account, until: openUntil(last.wrote_at.getTime(), now) };
  const has = await scope.rows(
    `select 1 from address where workspace_id = :workspace and person_id = :personId and kind = 'chat' limit 1`,
    { personId },
  );
  return has.length > 0 ? { account: null, until: null } : null;
}
