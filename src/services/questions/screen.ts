import { askedOf } from '@/core/question/fields';
import { ASKING_WORDS } from '@/core/question/lifecycle';
import type { Scope } from '@/db/kit/scope';
import type { KeywordRow } from '@/db/programs/entities';
import {
  askingCounts,
  questionFunnel,
  toldBy,
  type FunnelRow,
  type LinkCounts,
} from '@/db/questions/askings';
import { Asking } from '@/db/questions/entities';
import { ownFields } from '@/services/audience/own-fields';

export interface Funnel {
  questions: (FunnelRow & { label: string })[];
  people: LinkCounts;
}

/** What became of a keyword's questions, in the order they are asked; those it asks no more come last. */
export async function readFunnel(
  scope: Scope,
  { id, questions }: Pick<KeywordRow, 'id' | 'questions'>,
): Promise<Funnel> {
  const own = await ownFields(scope, true);
  const place = ({ field }: FunnelRow) => {
    const at = questions.findIndex((question) => question.field === field);
    return at < 0 ? questions.length : at;
  };
  const rows = (await questionFunnel(scope, id)).sort((a, b) => place(a) - place(b));
  return {
    questions: rows.map((row) => ({ ...row, label: askedOf(row.field, own)?.label ?? row.field })),
    people: await askingCounts(scope, id),
  };
}

export interface ToldOfThemselves {
  /** What they are asked now; null: nothing. */
  now: { words: string; label: string } | null;
  told: { label: string; outcome: string; at: Date; keyword: string | null }[];
}

/** What somebody told about themselves when they were asked, for their page. */
export async function readTold(scope: Scope, personId: string): Promise<ToldOfThemselves> {
  const own = await ownFields(scope, true);
  const label = (field: string) => askedOf(field, own)?.label ?? field;
  const open = await scope.em.findOne(Asking, { personId, state: ['open', 'linked'] });
  return {
    now: open && { words: ASKING_WORDS[open.state], label: label(open.questions[open.at]!.field) },
    told: (await toldBy(scope, personId)).map(({ field, ...row }) => ({ ...row, label: label(field) })),
  };
}
