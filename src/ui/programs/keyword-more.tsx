'use client';
import { useState, useTransition } from 'react';
import { useRouter } from 'next/navigation';
import { sentenceOf } from '@/core/shared/sentence';
import { displayNumber } from '@/core/phone/number';
import { readCallToAction, wordedCallToAction, type CallToAction } from '@/core/program/call-to-action';
import { FilePicker } from '@/ui/kit/file-picker';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';
import { ProveNumber } from '@/ui/sequences/prove-number';

export interface MissRow {
  spelling: string;
  texts: number;
  people: number;
  last: string;
  waiting: number;
}

/** What is wrong, or what it did. */
export interface Outcome {
  problems: { message: string }[];
  said?: string;
}

/** Runs an action, shows what is wrong with it or what it said, and reads the page anew. */
function useAct() {
  const router = useRouter();
  const press = usePress();
  const [busy, begin] = useTransition();
  const [told, setTold] = useState<{ bad: boolean; words: string } | null>(null);
  const run = (act: (press: string) => Promise<Outcome>) =>
    begin(async () => {
      const { problems, said } = await act(press.token());
      press.settle();
      const wrong = problems.map(({ message }) => sentenceOf(message)).join(' ');
      setTold(wrong ? { bad: true, words: wrong } : said ? { bad: false, words: said } : null);
      router.refresh();
    });
  return { busy, told, run };
}

function Told({ told }: { told: { bad: boolean; words: string } | null }) {
  if (!told) return null;
  return told.bad ? (
    <Problem>{told.words}</Problem>
  ) : (
    <p role="status" className="mt-2 text-sm text-good">
      ✓ {told.words}
    </p>
  );
}

/** What was nearly the keyword, and the spellings that count by now. */
export function Misspellings({
  keywordId,
  word,
  rows,
  spellings,
  mayEdit,
  count,
  drop,
}: {
  keywordId: string;
  word: string;
  rows: MissRow[];
  spellings: string[];
  mayEdit: boolean;
  count(id: string, spelling: string, days: number, press: string): Promise<Outcome>;
  drop(id: string, spelling: string, press: string): Promise<Outcome>;
}) {
  const { busy, told, run } = useAct();
  return (
    <Section title="Nearly typed">
      {rows.length === 0 ? (
        <p className="text-soft">Nobody has nearly typed {word} in the last sixty days.</p>
      ) : (
        <ul>
          {rows.map((row) => (
            <li
              key={row.spelling}
              className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1 border-b border-rule py-1.5"
            >
              <span>
                <span className="font-semibold">“{row.spelling}”</span>{' '}
                <span className="text-sm text-soft">
                  {plural(row.people, 'person', 'people')}, last {row.last}
                  {row.waiting > 0 && `; ${row.waiting} wrote nothing since`}
                </span>
              </span>
              {mayEdit && (
                <span className="flex gap-2">
                  {row.waiting > 0 && (
                    <button
                      className="button"
                      disabled={busy}
                      onClick={() => run((press) => count(keywordId, row.spelling, 14, press))}
                    >
                      Count it, and let {row.waiting} in
                    </button>
                  )}
                  {!spellings.includes(row.spelling) && (
                    <button
                      className="button"
                      disabled={busy}
                      onClick={() => run((press) => count(keywordId, row.spelling, 0, press))}
                    >
                      From now on
                    </button>
                  )}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {rows.some(({ waiting }) => waiting > 0) && (
        <p className="mt-1 text-sm text-soft">
          Whoever wrote it in the last fourteen days joins as if they had typed {word}: their own words are
          the consent, and the answer keeps the hours where they live.
        </p>
      )}
      {spellings.length > 0 && (
        <p className="mt-3">
          <span className="text-sm text-soft">Counts as {word}: </span>
          {spellings.map((spelling) => (
            <span key={spelling} className="mr-3">
              {spelling}
              {mayEdit && (
                <button
                  className="link ml-1 text-sm"
                  disabled={busy}
                  aria-label={`Let ${spelling} count no more`}
                  onClick={() => run((press) => drop(keywordId, spelling, press))}
                >
                  remove
                </button>
              )}
            </span>
          ))}
        </p>
      )}
      <Told told={told} />
    </Section>
  );
}

/** The answer, to one's own proved number. */
export function TryKeyword({
  keywordId,
  programId,
  own,
  acts,
}: {
  keywordId: string;
  programId: string;
  own: { number: string | null; asked: string | null };
  acts: {
    ask(programId: string, number: string, press: string): Promise<Outcome>;
    give(code: string): Promise<Outcome>;
    send(keywordId: string, press: string): Promise<Outcome>;
  };
}) {
  const { busy, told, run } = useAct();
  return (
    <Section title="Try it">
      {own.number === null ? (
        <ProveNumber
          why="It sends the answer, as it is saved, to your own mobile number. Nobody joins by it, and it is in no counts. First the number is proved."
          asked={own.asked}
          busy={busy}
          ask={(number) => run((press) => acts.ask(programId, number, press))}
          give={(code) => run(() => acts.give(code))}
        />
      ) : (
        <>
          <button
            className="button"
            disabled={busy}
            onClick={() => run((press) => acts.send(keywordId, press))}
          >
            Send the answer to {displayNumber(own.number)}
          </button>
          <p className="mt-1 text-sm text-soft">
            As it is saved. Nobody joins by it, no voucher is given, and it is in no counts.
          </p>
        </>
      )}
      <Told told={told} />
    </Section>
  );
}

/** The words of a photograph instead of pasted ones: they can be mended before they count. */
function PhotographReader({ read }: { read(text: string): void }) {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const send = async (file: File) => {
    setBusy(true);
    setProblem(null);
    const answer = await fetch('/internal/photograph', { method: 'POST', body: file }).catch(() => null);
    const said = (await answer?.json().catch(() => null)) as { text?: string; message?: string } | null;
    setBusy(false);
    if (answer?.ok && said?.text) read(said.text);
    else setProblem(said?.message ?? 'It did not arrive. Try again.');
  };
  return (
    <div className="mt-1 text-sm" aria-live="polite">
      {busy ? (
        <span className="text-soft">Reading the photograph, some seconds …</span>
      ) : (
        <FilePicker look="link" accept="image/jpeg,image/png,image/webp" onFile={(file) => void send(file)}>
          or read it from a photograph
        </FilePicker>
      )}
      <Problem>{problem}</Problem>
    </div>
  );
}

/** A call to action, read by the rules while it is pasted. */
export function CallReader({ call }: { call: CallToAction }) {
  const [text, setText] = useState('');
  const [copied, setCopied] = useState(false);
  const findings = text.trim() === '' ? null : readCallToAction(text, call);
  const proposal = wordedCallToAction(call, displayNumber(call.numbers[0] ?? null));
  return (
    <Section title="What a poster or post must say">
      <label htmlFor="call" className="mb-1 block text-sm text-soft">
        Paste what people read before they text {call.keyword.toUpperCase()}
      </label>
      <textarea
        id="call"
        className="input"
        rows={4}
        maxLength={4_000}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <PhotographReader read={setText} />
      {findings && (
        <ul aria-live="polite" className="mt-2">
          {findings.length === 0 && (
            <li>
              <Mark tone="good">It says all that the rules ask for.</Mark>
            </li>
          )}
          {findings.map(({ code, weight, message }) => (
            <li key={code} className="flex gap-3 border-b border-rule py-1">
              <span className="w-16 shrink-0">
                <Mark tone={weight === 'must' ? 'bad' : 'wait'}>{weight}</Mark>
              </span>
              <span>{message}</span>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-3 border-l-2 border-rule pl-4">
        <p className="mb-1 text-sm text-soft">Words that say all of it</p>
        <p className="max-w-[62ch]">{proposal}</p>
        <button
          type="button"
          className="link mt-1 text-sm"
          onClick={() => void navigator.clipboard.writeText(proposal).then(() => setCopied(true))}
        >
          {copied ? 'copied' : 'copy'}
        </button>
      </div>
    </Section>
  );
}
