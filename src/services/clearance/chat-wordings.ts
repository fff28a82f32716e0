import { filling, languageFor, piecesOf, wholeText } from '@/core/chat/template';
import type { WordingState } from '@/core/chat/wording-life';
import { parseTemplate } from '@/core/text/template';
import { ChatTemplate, ChatWording } from '@/db/chat/entities';
import type { Scope } from '@/db/kit/scope';
import { fillItems } from '@/services/items/fill-items';
import type { PersonFacts, Wording } from '@/services/clearance/clearance-facts';

/** How near a wording is to being sent, of several of one language: the approved one counts, however new another is. */
const NEARNESS: Record<WordingState, number> = {
  ...{ approved: 0, paused: 1, 'in-review': 2, draft: 3, refused: 4, withdrawn: 5 },
};

/** The version of each language that goes out, or would first; the language it was written in first stands first. */
export async function standingWordings(scope: Scope, templateId: string): Promise<ChatWording[]> {
  const all = await scope.em.find(
    ChatWording,
    { templateId },
    { orderBy: { createdAt: 'asc', version: 'asc' } },
  );
  return standingOf(all);
}

/** The same of wordings that are at hand, in the order they were made. */
export function standingOf<W extends Pick<ChatWording, 'language' | 'state' | 'version'>>(
  all: readonly W[],
): W[] {
  const byLanguage = new Map<string, W>();
  for (const wording of all) {
    const known = byLanguage.get(wording.language);
    const nearer = known && NEARNESS[wording.state] - NEARNESS[known.state];
    if (nearer === undefined || nearer < 0 || (nearer === 0 && wording.version > known!.version))
      byLanguage.set(wording.language, wording);
  }
  return [...byLanguage.values()];
}

export interface LanguageWording {
  language: string;
  wording: Wording;
}

/** A template as it is filled in, in each of its languages. Null: it is not there, or nothing stands in it. */
export async function templateWordings(scope: Scope, templateId: string): Promise<LanguageWording[] | null> {
  const template = await scope.em.findOne(ChatTemplate, { id: templateId });
  if (!template) return null;
  const wordings: LanguageWording[] = [];
  for (const { id, language, words, state } of await standingWordings(scope, templateId)) {
    // What a template names of what is on says what stands there when it is made ready.
    const settled = new Map<string, string>();
    for (const { source } of piecesOf(words.body).variables)
      settled.set(source, await fillItems(scope, source));
    const body = parseTemplate(await fillItems(scope, words.body));
    if (!body.ok) continue;
    const chat = {
      ...{ accountId: template.accountId, wordingId: id, category: template.category, state },
      ...{ whole: (filled: string) => wholeText(words, filled), fill: filling(words.body, settled) },
    };
    wordings.push({ language, wording: { body: body.value, subject: null, chat } });
  }
  return wordings.length > 0 ? wordings : null;
}

/** The wording somebody gets: in their language, as far as there is one. */
export const wordingFor =
  (wordings: readonly LanguageWording[]) =>
  ({ row }: { row: Pick<PersonFacts['row'], 'language'> }): Wording =>
    languageFor(wordings, row.language)!.wording;
