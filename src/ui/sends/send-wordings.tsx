import { letterOf, type Measure, type Verdict } from '@/core/broadcast/wordings';
import { RateLine } from '@/ui/results/result-lines';
import { PlainForm } from '@/ui/kit/plain-form';
import type { FormState } from '@/ui/kit/form-state';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';

export interface WordingResult {
  body: string;
  people: number;
  delivered: number;
  replies: number;
  clicks: number;
  opt_outs: number;
}

interface Props {
  id: string;
  by: Measure;
  wordings: readonly WordingResult[];
  verdict: Verdict;
  /** The rest waits for a choice. */
  waits: boolean;
  /** It is made by itself, once the difference is real. */
  byItself: boolean;
  /** Which one was chosen for the rest; null: none. */
  chosen: number | null;
  choose(state: FormState, data: FormData): Promise<FormState>;
}

const BY: Record<Measure, string> = { replies: 'replied', clicks: 'clicked', 'opt-outs': 'opted out' };

/** How the wordings of a broadcast stand against each other, and the choice where one is due. */
export function SendWordings(props: Props) {
  const { wordings, verdict } = props;
  return (
    <div className="mt-8">
      <Section title="Wordings" note={sentenceOf(props)}>
        <ListTable
          label="Wordings"
          rows={wordings.map((wording, i) => ({ ...wording, i, rate: verdict.rates[i]! }))}
          rowKey={({ i }) => String(i)}
          columns={columnsOf(props)}
          empty="There is one."
        />
      </Section>
    </div>
  );
}

function sentenceOf({ verdict: { better, ahead }, waits, byItself, chosen }: Props): string {
  const rest =
    chosen !== null
      ? ` The rest got ${letterOf(chosen)}.`
      : waits
        ? byItself
          ? ' The rest waits until one is real, or until somebody chooses.'
          : ' The rest waits until somebody chooses.'
        : '';
  if (better !== null) return `${letterOf(better)} is better, and that is no chance.${rest}`;
  return ahead === null
    ? `No difference yet.${rest}`
    : `${letterOf(ahead)} is ahead, but the difference is not real yet: it may be chance.${rest}`;
}

type Row = WordingResult & { i: number; rate: Verdict['rates'][number] };

const columnsOf = ({ id, by, waits, chosen, verdict, choose }: Props): ListColumn<Row>[] => [
  {
    title: 'Wording',
    cell: ({ i, body }) => (
      <>
        <strong>{letterOf(i)}</strong> <span className="text-soft">{body}</span>{' '}
        {verdict.better === i && <Mark tone="good">better</Mark>}
        {chosen === i && <Mark tone="plain">for the rest</Mark>}
      </>
    ),
  },
  { title: 'People', kind: 'number', cell: ({ people }) => count(people) },
  { title: 'Delivered', kind: 'number', cell: ({ delivered }) => count(delivered) },
  { title: 'Replied', kind: 'number', cell: ({ replies }) => count(replies) },
  { title: 'Clicked', kind: 'number', cell: ({ clicks }) => count(clicks) },
  { title: 'Opted out', kind: 'number', cell: ({ opt_outs: out }) => count(out) },
  { title: `Share that ${BY[by]}`, kind: 'number', cell: ({ rate }) => <RateLine rate={rate} /> },
  ...(waits
    ? [
        {
          title: 'For the rest',
          cell: ({ i }: Row) => (
            <PlainForm
              action={choose}
              submit={`Send ${letterOf(i)} to the rest`}
              main={verdict.better === i}
              hidden={{ broadcast: id, wording: String(i) }}
            />
          ),
        },
      ]
    : []),
];
