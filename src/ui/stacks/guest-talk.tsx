'use client';
import { useState } from 'react';
import type { OwnFieldKind } from '@/core/audience/fields';
import { askServer } from '@/ui/kit/ask';
import { Problem } from '@/ui/kit/problem';

interface GuestFact {
  key: string;
  label: string;
  kind: OwnFieldKind;
  options: string[];
  known: string | string[] | null;
}

interface Talk {
  name: string;
  waits: boolean;
  talk: { id: string; direction: 'in' | 'out'; at: string; body: string }[];
  /** They are out of everything. */
  stopped: boolean;
  /** They are being taken out, which can still be taken back. */
  leaving: boolean;
  facts: GuestFact[];
  /** Answers of the house, in the words they get. */
  prepared: { id: string; question: string; body: string }[];
}

interface Props {
  path: string;
  reply: { personId: string; name: string; words: string };
}

/** What went to and fro with somebody of a guest's stack, an answer to them, and what is learnt of them. */
export function GuestTalk({ path, reply }: Props) {
  const { talk, problem, busy, read, ask } = useTalk(path, reply.personId);
  const [words, setWords] = useState('');
  const [prepared, setPrepared] = useState<string | null>(null);
  const send = () =>
    ask({ act: 'answer', body: words, ...(prepared === null ? {} : { prepared }) }, () => {
      setWords('');
      setPrepared(null);
    });
  return (
    <details onToggle={(event) => event.currentTarget.open && talk === null && read()}>
      <summary className="min-h-11 cursor-pointer py-2">
        <span className="font-semibold">{reply.name || 'No name known'}</span>
        <span className="ml-3 [overflow-wrap:anywhere]">{reply.words}</span>
      </summary>
      <ol className="my-2 border-l border-rule pl-3">
        {talk?.talk.map(({ id, direction, body }) => (
          <li key={id} className={`py-1 ${direction === 'out' ? 'pl-6' : ''}`}>
            <span className="text-sm text-soft">{direction === 'out' ? '→ out ' : '← in '}</span>
            <span className="whitespace-pre-wrap [overflow-wrap:anywhere]">{body}</span>
          </li>
        ))}
      </ol>
      {talk?.stopped ? (
        <p className="text-soft">They are out. Nothing goes to them any more.</p>
      ) : (
        <>
          {talk && talk.prepared.length > 0 && (
            <div
              className="mb-3 flex flex-wrap items-center gap-2"
              role="group"
              aria-label="Prepared answers"
            >
              <span className="w-full text-sm text-soft">Begin with the house’s answer to</span>
              {talk.prepared.map(({ id, question, body }) => (
                <button
                  key={id}
                  type="button"
                  className="button min-h-11"
                  onClick={() => (setWords(body), setPrepared(id))}
                >
                  {question}
                </button>
              ))}
            </div>
          )}
          <label className="mb-2 block text-sm text-soft">
            Answer
            <textarea
              className="input text-ink"
              rows={3}
              maxLength={1_600}
              value={words}
              onChange={({ target }) => setWords(target.value)}
            />
          </label>
          <Problem>{problem}</Problem>
          <button
            type="button"
            className="button button-main min-h-11"
            aria-disabled={busy}
            onClick={() => !busy && send()}
          >
            {busy ? 'Working …' : 'Send the answer'}
          </button>
          {talk && <Facts facts={talk.facts} note={(key, value) => ask({ act: 'note', key, value })} />}
          {talk && <OtherWays {...{ talk, ask }} />}
        </>
      )}
    </details>
  );
}

type Ask = (question: Record<string, string>, then?: () => void) => void;

function useTalk(path: string, personId: string) {
  const [talk, setTalk] = useState<Talk | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const look = () => askServer<Talk>(path, { act: 'talk', person: personId }).then(setTalk);
  const during = (work: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(null);
    work()
      .catch((error: unknown) =>
        setProblem(error instanceof Error ? error.message : 'It did not arrive. Try again.'),
      )
      .finally(() => setBusy(false));
  };
  const ask: Ask = (question, then) =>
    during(async () => {
      await askServer(path, { person: personId, ...question });
      then?.();
      await look();
    });
  return { talk, problem, busy, read: () => during(look), ask };
}

/** Questions to whoever writes with them: a choice is one press. */
function Facts({ facts, note }: { facts: readonly GuestFact[]; note(key: string, value: string): void }) {
  return facts.map(({ key, label, kind, options, known }) => {
    const choices = kind === 'yes-no' ? ['yes', 'no'] : kind === 'one-of' ? options : [];
    return (
      <div key={key} className="mt-4">
        <p className="mb-1 text-sm text-soft">{label}</p>
        {choices.length > 0 ? (
          <div className="flex flex-wrap gap-2" role="group" aria-label={label}>
            {choices.map((value) => (
              <button
                key={value}
                type="button"
                className={`button min-h-11 ${known === value ? 'button-main' : ''}`}
                aria-pressed={known === value}
                onClick={() => note(key, value)}
              >
                {value}
              </button>
            ))}
          </div>
        ) : (
          <input
            aria-label={label}
            type={kind === 'date' ? 'date' : 'text'}
            inputMode={kind === 'number' ? 'decimal' : undefined}
            className="input"
            maxLength={500}
            defaultValue={[known ?? ''].flat().join(', ')}
            onBlur={({ target }) =>
              target.value !== [known ?? ''].flat().join(', ') && note(key, target.value)
            }
          />
        )}
      </div>
    );
  });
}

/** Whom a guest cannot help, and who wants no more. */
function OtherWays({ talk, ask }: { talk: Talk; ask: Ask }) {
  const [sure, setSure] = useState(false);
  if (talk.leaving)
    return (
      <p className="mt-4">
        They are being taken out.{' '}
        <button type="button" className="link min-h-11" onClick={() => ask({ act: 'stay' })}>
          Take that back
        </button>
      </p>
    );
  return (
    <div className="mt-4 flex flex-wrap gap-3">
      <button type="button" className="button min-h-11" onClick={() => ask({ act: 'another', why: '' })}>
        Somebody else, please
      </button>
      {sure ? (
        <>
          <button
            type="button"
            className="button button-main min-h-11"
            onClick={() => (setSure(false), ask({ act: 'leave' }))}
          >
            Yes, take them out of everything
          </button>
          <button type="button" className="button min-h-11" onClick={() => setSure(false)}>
            No
          </button>
        </>
      ) : (
        <button type="button" className="button min-h-11" onClick={() => setSure(true)}>
          They want no more texts
        </button>
      )}
    </div>
  );
}
