'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { VOUCHER_WORDS, type Told } from '@/core/offer/voucher';
import { Camera, useScanner } from '@/ui/kit/scanner';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime } from '@/ui/kit/time';
import { askCounter, TillQueue, type Answer, type Kept } from './till-queue';

type Shown = Told & { counted?: boolean; first_name?: string | null };

const UNKNOWN = { word: 'unknown', shape: '?', means: 'No voucher of ours.' };
const WAIT = { word: 'wait', shape: '◷', means: 'Too many wrong codes.' };
const wordsOf = (state: Shown['state']) =>
  state === 'unknown' ? UNKNOWN : state === 'wait' ? WAIT : VOUCHER_WORDS[state];

const TONE: Record<Shown['state'], string> = {
  ...{ valid: 'border-good text-good', used: 'border-bad text-bad', expired: 'border-bad text-bad' },
  ...{ 'not-yet': 'border-wait text-wait', withdrawn: 'border-bad text-bad' },
  ...{ unknown: 'border-bad text-bad', wait: 'border-wait text-wait' },
};

/**
 * The counter: a code typed, scanned, or found by the last four of a number; what it is worth in a word and a shape; used
 * with one press, which is kept and sent again until the house has answered.
 */
export function CounterDesk({ zone }: { zone: string }) {
  const scan = useScanner();
  const [typed, setTyped] = useState('');
  const [shown, setShown] = useState<Shown | null>(null);
  const [found, setFound] = useState<Shown[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { kept, press } = useTill(
    useCallback((answer: Answer) => {
      setProblem(answer.ok ? null : answer.message);
      if (answer.ok) setShown(answer.value as Shown);
    }, []),
  );
  const input = useRef<HTMLInputElement>(null);
  const ask = async (question: Record<string, string>, take: (answer: unknown) => void) => {
    setBusy(true);
    setProblem(null);
    const answer = await askCounter(question);
    setBusy(false);
    if (answer.ok) take(answer.value);
    else setProblem(answer.message);
  };
  const check = (text: string) => {
    const digits = text.replace(/\D/g, '');
    setFound(null);
    setShown(null);
    if (/^\s*[\d\s]{4,5}\s*$/.test(text) && digits.length === 4)
      return void ask({ do: 'find', ending: digits }, (answer) =>
        setFound((answer as { items: Shown[] }).items),
      );
    return void ask({ do: 'check', code: text }, (answer) => setShown(answer as Shown));
  };
  return (
    <div>
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim() !== '') check(typed);
        }}
      >
        <label className="min-w-0 flex-1">
          <span className="mb-1 block text-sm text-soft">Code, or the last four of their number</span>
          <input
            ref={input}
            className="input w-full font-mono text-xl uppercase"
            autoComplete="off"
            autoCapitalize="characters"
            spellCheck={false}
            maxLength={60}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button className="button button-main self-end" disabled={busy || typed.trim() === ''}>
          {busy ? '…' : 'Look'}
        </button>
      </form>
      <div className="mt-4">
        <Camera scan={scan} found={(text) => (setTyped(''), check(text))} />
      </div>
      <Problem>{problem}</Problem>
      {found && <Found rows={found} choose={(row) => (setShown(row), setFound(null))} />}
      {shown && (
        <Verdict
          key={`${shown.code} ${shown.state} ${shown.used_at}`}
          told={shown}
          zone={zone}
          waits={kept.some(({ code }) => code === shown.code)}
          use={() => shown.code && press({ do: 'use', code: shown.code })}
          undo={(id) => press({ do: 'undo', code: shown.code ?? '', press: id })}
        />
      )}
      {kept.length > 0 && (
        <p role="status" className="mt-4 border-l-2 border-wait pl-3 text-wait">
          ◷ {kept.length === 1 ? 'One press is' : `${kept.length} presses are`} kept and sent again until the
          house answers. Each counts once.
        </p>
      )}
    </div>
  );
}

/** Presses that the house has not answered yet; they outlive the page. */
function useTill(answered: (answer: Answer) => void) {
  const [kept, setKept] = useState<readonly Kept[]>([]);
  const queue = useRef<TillQueue | null>(null);
  useEffect(() => {
    const till = new TillQueue(localStorage, answered, setKept);
    queue.current = till;
    till.start();
    return () => till.stop();
  }, [answered]);
  return {
    kept,
    press: (what: Omit<Kept, 'press'> & { press?: string }) =>
      queue.current?.add({ press: crypto.randomUUID(), ...what }),
  };
}

function Found({ rows, choose }: { rows: Shown[]; choose(row: Shown): void }) {
  if (rows.length === 0)
    return <p className="mt-4 text-soft">No voucher that can be used went to a number that ends so.</p>;
  return (
    <ul className="mt-4">
      {rows.map((row) => (
        <li key={row.code} className="border-b border-rule">
          <button type="button" className="w-full py-3 text-left" onClick={() => choose(row)}>
            <span className="font-semibold">{row.first_name ?? 'somebody'}</span>
            <span className="text-soft">
              {' '}
              {row.offer?.name}, {row.code}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Verdict({
  told,
  zone,
  waits,
  use,
  undo,
}: {
  told: Shown;
  zone: string;
  waits: boolean;
  use(): void;
  undo(press: string): void;
}) {
  const justUsed = told.counted === true;
  const { word, shape, means } = justUsed
    ? { word: 'used now', shape: '✓', means: 'It is used up by this press.' }
    : wordsOf(told.state);
  const tone = justUsed ? 'border-good text-good' : TONE[told.state];
  return (
    <section aria-label="The voucher" className="mt-5">
      <div role="status" className={`border-2 px-4 py-4 text-center ${tone}`}>
        <p className="text-3xl font-semibold">
          <span aria-hidden="true">{shape}</span> {word}
        </p>
        <p>{told.because ?? means}</p>
      </div>
      {told.offer && (
        <div className="mt-3">
          <p className="text-lg">{told.offer.words}</p>
          <p className="text-soft">
            {told.offer.name}
            {told.offer.place && `, ${told.offer.place}`}
            {told.code && <span className="ml-2 font-mono">{told.code}</span>}
          </p>
          {told.uses_left > 1 && <p className="text-soft">{told.uses_left} uses left.</p>}
          {told.used_at && !justUsed && (
            <p>
              Used {dayAndTime(new Date(told.used_at), zone)}
              {told.used_by && ` by ${told.used_by}`}.
            </p>
          )}
          {told.state === 'not-yet' && told.begins_at && (
            <p>Counts from {dayAndTime(new Date(told.begins_at), zone)}.</p>
          )}
          {told.ends_at && <p className="text-soft">Until {dayAndTime(new Date(told.ends_at), zone)}.</p>}
        </div>
      )}
      <div className="mt-4 grid gap-3">
        {told.state === 'valid' && !justUsed && (
          <button type="button" className="button button-main py-4 text-xl" disabled={waits} onClick={use}>
            {waits ? 'Sending …' : 'Use it up'}
          </button>
        )}
        {told.undo && <Undo until={told.undo.until} undo={() => undo(told.undo!.press)} />}
      </div>
    </section>
  );
}

/** Offered as long as it can be undone. */
function Undo({ until, undo }: { until: string; undo(): void }) {
  const [left, setLeft] = useState(1);
  useEffect(() => {
    const look = () => setLeft(Math.ceil((Date.parse(until) - Date.now()) / 1_000));
    look();
    const timer = setInterval(look, 1_000);
    return () => clearInterval(timer);
  }, [until]);
  if (left <= 0) return null;
  return (
    <button type="button" className="button justify-center" onClick={undo}>
      It was a mistake: undo
    </button>
  );
}
