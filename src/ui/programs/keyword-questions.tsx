'use client';
import { againText, askedOf, MOST_QUESTIONS, questionText, type Question } from '@/core/question/fields';
import type { OwnField } from '@/core/people/values';
import { LabelledInput, problemOf, type Problems } from '@/ui/kit/labelled';
import { Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';

export interface Asking {
  questions: Question[];
  thanks: string;
  linkDays: number | null;
  taskAfter: boolean;
}

interface Props {
  now: Asking;
  set(part: Partial<Asking>): void;
  own: OwnField[];
  problems: Problems['problems'];
}

const BUILT_IN = ['name', 'email', 'postal_code'];

/** What can be asked that is not asked yet, with its label. */
const choicesFor = (own: readonly OwnField[], taken: readonly Question[], mine?: string) =>
  [...BUILT_IN, ...own.map(({ key }) => `own.${key}`)]
    .filter((field) => field === mine || !taken.some((question) => question.field === field))
    .flatMap((field) => {
      const asked = askedOf(field, own);
      return asked ? [{ field, label: asked.label }] : [];
    });

/** The questions that are asked by text, one after the other, once somebody joined. */
export function KeywordQuestions({ now, set, own, problems }: Props) {
  const { questions } = now;
  const left = choicesFor(own, questions);
  const change = (place: number, part: Partial<Question>) =>
    set({ questions: questions.map((one, i) => (i === place ? { ...one, ...part } : one)) });
  const move = (place: number, by: -1 | 1) => {
    const list = [...questions];
    [list[place], list[place + by]] = [list[place + by]!, list[place]!];
    set({ questions: list });
  };
  return (
    <Section title="Questions after joining" note={`${questions.length} of ${MOST_QUESTIONS}`}>
      <p className="mb-2 text-sm text-soft">
        One text each, after the confirmation; what is known of somebody is not asked. Without an answer it is
        asked once more after a day, then no more.
      </p>
      <ol className="mb-2">
        {questions.map((question, place) => (
          <li key={question.field} className="mb-3 border-b border-rule pb-3">
            <QuestionRow
              {...{ question, place, own, last: questions.length - 1 }}
              choices={choicesFor(own, questions, question.field)}
              change={(part) => change(place, part)}
              move={(by) => move(place, by)}
              remove={() => set({ questions: questions.filter((_, i) => i !== place) })}
            />
          </li>
        ))}
      </ol>
      {questions.length < MOST_QUESTIONS && left.length > 0 && (
        <button
          type="button"
          className="button"
          onClick={() => set({ questions: [...questions, { field: left[0]!.field, words: '', again: '' }] })}
        >
          Ask {questions.length === 0 ? 'something' : 'one more'}
        </button>
      )}
      <Problem>{problemOf(problems, 'questions')}</Problem>
      {questions.length > 0 && <Afterwards {...{ now, set, problems }} />}
    </Section>
  );
}

function QuestionRow({
  question,
  place,
  last,
  choices,
  own,
  change,
  move,
  remove,
}: {
  question: Question;
  place: number;
  last: number;
  choices: { field: string; label: string }[];
  own: OwnField[];
  change(part: Partial<Question>): void;
  move(by: -1 | 1): void;
  remove(): void;
}) {
  const asked = askedOf(question.field, own);
  const ours = { ...question, words: '', again: '' };
  return (
    <>
      <div className="mb-1 flex flex-wrap items-center gap-2">
        <span className="w-5 text-soft">{place + 1}</span>
        <select
          className="input w-auto"
          aria-label={`What question ${place + 1} asks for`}
          value={question.field}
          onChange={(event) => change({ field: event.target.value })}
        >
          {!asked && <option value={question.field}>a field that is gone</option>}
          {choices.map(({ field, label }) => (
            <option key={field} value={field}>
              {label}
            </option>
          ))}
        </select>
        <span className="flex gap-2 text-sm">
          <Act words="up" label={`up: question ${place + 1}`} off={place === 0} act={() => move(-1)} />
          <Act words="down" label={`down: question ${place + 1}`} off={place === last} act={() => move(1)} />
          <Act words="remove" label={`remove question ${place + 1}`} act={remove} />
        </span>
      </div>
      <div className="grid gap-x-4 gap-y-1 pl-7 sm:grid-cols-2">
        <label className="block">
          <span className="text-sm text-soft">asked as</span>
          <input
            className="input"
            maxLength={200}
            value={question.words}
            placeholder={asked ? questionText(ours, asked) : ''}
            onChange={(event) => change({ words: event.target.value })}
          />
        </label>
        <label className="block">
          <span className="text-sm text-soft">once more as</span>
          <input
            className="input"
            maxLength={200}
            value={question.again}
            placeholder={asked ? againText(ours, asked) : ''}
            onChange={(event) => change({ again: event.target.value })}
          />
        </label>
      </div>
    </>
  );
}

function Act({
  words,
  label,
  off = false,
  act,
}: {
  words: string;
  label: string;
  off?: boolean;
  act(): void;
}) {
  return (
    <button
      type="button"
      className="link disabled:opacity-50"
      aria-label={label}
      disabled={off}
      onClick={act}
    >
      {words}
    </button>
  );
}

function Afterwards({ now, set, problems }: Omit<Props, 'own'>) {
  return (
    <div className="mt-3 grid gap-x-8 gap-y-2 sm:grid-cols-2">
      <LabelledInput
        {...{ name: 'thanks', label: 'Said after the last answer; empty: nothing', problems, maxLength: 200 }}
        value={now.thanks}
        set={(thanks) => set({ thanks })}
      />
      <LabelledInput
        {...{ name: 'link_days', label: 'Without an answer a personal link, for so many days; empty: none' }}
        {...{ problems, type: 'number', min: 1, max: 90, narrow: 'w-28' }}
        value={String(now.linkDays ?? '')}
        set={(days) => set({ linkDays: days === '' ? null : Number(days) })}
      />
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={now.taskAfter}
          onChange={(event) => set({ taskAfter: event.target.checked })}
        />
        <span>When {now.linkDays === null ? 'no answer' : 'neither'} came, a task for a teammate</span>
      </label>
    </div>
  );
}
