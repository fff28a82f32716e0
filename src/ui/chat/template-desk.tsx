'use client';
import { useMemo, useState, useTransition } from 'react';
import { toast } from 'sonner';
import { checkChat, type ChatFinding } from '@/core/chat/check';
import type { Category, ChatLimits } from '@/core/chat/network';
import { piecesOf, type ChatWords } from '@/core/chat/template';
import type { WordingState } from '@/core/chat/wording-life';
import type { MergeField } from '@/core/text/fields';
import { sentenceOf } from '@/core/shared/sentence';
import { LabelledInput } from '@/ui/kit/labelled';
import { Problem } from '@/ui/kit/problem';
import { plural } from '@/ui/kit/numbers';
import { usePress } from '@/ui/kit/press';
import { Writer } from '@/ui/kit/writer';
import { ButtonFields } from './button-fields';
import { TemplatePreview } from './template-preview';

export interface WordingValues {
  id: string;
  stamp: number;
  words: ChatWords;
  samples: Record<string, string>;
}

export interface WordingOutcome {
  problems: { field: string; message: string }[];
  stamp: number | null;
}

interface Props {
  template: { name: string; category: Category };
  language: string;
  version: number;
  state: WordingState;
  limits: ChatLimits;
  account: string;
  initial: WordingValues;
  fields: readonly MergeField[];
  /** What was said before, where something is: an example of each field. */
  examples: Readonly<Record<string, string>>;
  mayEdit: boolean;
  keep(values: WordingValues, press: string): Promise<WordingOutcome>;
  handIn(id: string, press: string): Promise<WordingOutcome>;
}

/** Writing one version of a template in one language; beside it what a reviewer reads, and what they would say. */
export function ChatTemplateDesk(props: Props) {
  const { template, language, version, state, limits, account, initial, fields, examples, mayEdit } = props;
  const [values, setValues] = useState(initial);
  const [saved, setSaved] = useState(initial);
  const [problems, setProblems] = useState<WordingOutcome['problems']>([]);
  const [pending, start] = useTransition();
  const press = usePress();
  const { words, samples } = values;
  const set = (part: Partial<ChatWords>) =>
    setValues((old) => ({ ...old, words: { ...old.words, ...part } }));
  const variables = useMemo(() => piecesOf(words.body).variables, [words.body]);
  const filled = Object.fromEntries(
    variables.map(({ name, source }) => [name, samples[name] ?? examples[source] ?? examples[name] ?? '']),
  );
  const findings = useMemo(
    () => checkChat({ ...template, language, words, samples: filled }, limits),
    // `filled` follows from the words and the samples.
    // oxlint-disable-next-line react/exhaustive-deps
    [template.name, template.category, language, words, samples, limits],
  );
  const musts = findings.filter(({ severity }) => severity === 'must').length;
  const draft = state === 'draft' && mayEdit;
  const changed =
    JSON.stringify({ words, filled }) !== JSON.stringify({ words: saved.words, filled: saved.samples });
  const save = async (token: string): Promise<number | null> => {
    const outcome = await props.keep({ ...values, samples: filled }, token);
    setProblems(outcome.problems);
    if (outcome.stamp === null) return null;
    const kept = { ...values, samples: filled, stamp: outcome.stamp };
    setValues(kept);
    setSaved(kept);
    return outcome.stamp;
  };
  const keepIt = () =>
    start(async () => {
      const stamp = await save(press.token());
      press.settle();
      if (stamp !== null) toast('Draft kept.');
    });
  const handItIn = () =>
    start(async () => {
      const stamp = changed ? await save(`${press.token()}k`) : values.stamp;
      if (stamp === null) return press.settle();
      const outcome = await props.handIn(values.id, press.token());
      press.settle();
      setProblems(outcome.problems);
      if (outcome.problems.length === 0)
        toast(`Handed in to ${account}. You are told here what the network says.`);
    });
  if (!draft) return <TemplatePreview words={words} samples={filled} />;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <div>
        <LabelledInput
          {...{
            name: 'header',
            label: `Header, one line, empty for none (${limits.header} characters)`,
            problems,
          }}
          value={words.header}
          maxLength={limits.header * 2}
          set={(header) => set({ header })}
        />
        <Writer
          label={`Body (${limits.body} characters)`}
          initial={initial.words.body}
          value={words.body}
          onChange={(body) => set({ body })}
          fields={fields}
          counts={false}
          problem={problems.find(({ field }) => field === 'body')?.message}
        />
        {variables.length > 0 && (
          <fieldset className="mt-4">
            <legend className="mb-1 text-sm text-soft">
              An example of each field: a reviewer reads it, nobody else does
            </legend>
            {variables.map(({ name, label }) => (
              <LabelledInput
                key={name}
                {...{
                  name: `samples.${name}`,
                  label,
                  problems,
                  value: filled[name] ?? '',
                  maxLength: 200,
                }}
                set={(sample) =>
                  setValues((old) => ({ ...old, samples: { ...old.samples, [name]: sample } }))
                }
              />
            ))}
          </fieldset>
        )}
        <div className="mt-4">
          <LabelledInput
            {...{
              name: 'footer',
              label: `Footer, empty for none (${limits.footer} characters)`,
              problems,
            }}
            value={words.footer}
            maxLength={limits.footer * 2}
            set={(footer) => set({ footer })}
          />
        </div>
        <ButtonFields buttons={words.buttons} set={(buttons) => set({ buttons })} limits={limits} />
        {problems
          .filter(
            ({ field }) => !['header', 'body', 'footer'].includes(field) && !field.startsWith('samples'),
          )
          .map(({ message }) => (
            <Problem key={message}>{sentenceOf(message)}</Problem>
          ))}
        <div className="mt-6 flex flex-wrap items-center gap-3">
          <button
            type="button"
            className="button button-main"
            disabled={pending || musts > 0}
            onClick={handItIn}
          >
            {pending ? 'Working …' : `Hand version ${version} in for review`}
          </button>
          <button type="button" className="button" disabled={pending || !changed} onClick={keepIt}>
            {changed ? 'Keep the draft' : 'The draft is kept'}
          </button>
          {musts > 0 && (
            <span className="text-soft" role="status">
              {plural(musts, 'thing')} must be mended first.
            </span>
          )}
        </div>
      </div>
      <aside aria-label="Margin" className="border-rule lg:border-l lg:pl-6">
        <h2 className="mb-2 font-head text-lg">As a reviewer reads it</h2>
        <TemplatePreview words={words} samples={filled} />
        <h2 className="mt-6 mb-2 font-head text-lg">What they would say</h2>
        <ChatFindings findings={findings} />
      </aside>
    </div>
  );
}

function ChatFindings({ findings }: { findings: readonly ChatFinding[] }) {
  if (findings.length === 0)
    return <p className="text-good">✓ Nothing stands against it by the network’s own limits.</p>;
  return (
    <ul aria-live="polite">
      {findings.map(({ severity, message }) => (
        <li
          key={message}
          className={`border-l-2 py-1 pl-3 ${severity === 'must' ? 'border-bad' : 'border-wait'}`}
        >
          <span className="text-sm text-soft">{severity} </span>
          {sentenceOf(message)}
        </li>
      ))}
    </ul>
  );
}
