'use client';
import { sentenceOf } from '@/core/shared/sentence';
import { useState, useTransition } from 'react';
import { useRouter } from 'next/navigation';
import { DEED_WORDS } from '@/core/sequence/words';
import { Section } from '@/ui/kit/page';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime } from '@/ui/kit/time';
import { ProveNumber } from './prove-number';
import type { TrialActs, TrialView } from './types';

interface Props {
  sequenceId: string;
  programId: string;
  own: { number: string | null; asked: string | null };
  trial: TrialView | null;
  acts: TrialActs;
  zone: string;
  /** What is written can be tried: nothing must be mended, and it is saved. */
  ready: boolean;
}

const PACE_WORDS: Record<number, string> = {
  10: 'a day in ten seconds',
  60: 'a day in a minute',
  600: 'a day in ten minutes',
  86_400: 'as the clock goes',
};

/** The real thing to one's own number, with time pressed together. */
export function TrialPanel({ sequenceId, programId, own, trial, acts, zone, ready }: Props) {
  const router = useRouter();
  const press = usePress();
  const [busy, begin] = useTransition();
  const [problem, setProblem] = useState<string | null>(null);
  const run = (act: () => Promise<{ problems: { message: string }[] }>) =>
    begin(async () => {
      const { problems } = await act();
      press.settle();
      setProblem(problems.map(({ message }) => sentenceOf(message)).join(' ') || null);
      router.refresh();
    });
  return (
    <Section title="Try it on me">
      {own.number === null ? (
        <ProveNumber
          why="It sends the texts of what is written to your own mobile number, a day in seconds. Nobody else gets anything, and it is in no counts. First the number is proved."
          asked={own.asked}
          busy={busy}
          ask={(number) => run(() => acts.ask(programId, number, press.token()))}
          give={(code) => run(() => acts.give(code))}
        />
      ) : (
        <Starting
          number={own.number}
          running={trial !== null && trial.ended === null}
          busy={busy || !ready}
          start={(seconds) => run(() => acts.start(sequenceId, seconds, press.token()))}
          end={() => run(() => acts.end(sequenceId))}
        />
      )}
      <Problem>{problem}</Problem>
      {trial && <Log trial={trial} zone={zone} />}
    </Section>
  );
}

function Starting({
  number,
  running,
  busy,
  start,
  end,
}: {
  number: string;
  running: boolean;
  busy: boolean;
  start(seconds: number): void;
  end(): void;
}) {
  const [pace, setPace] = useState(10);
  return (
    <div className="grid gap-2 text-sm">
      <p className="text-soft">
        Real texts to {number}: answer them, follow a link or say STOP as anybody would. Tags, tasks and the
        like are only told. It is in no counts, and keeps no quiet hours.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <select
          className="input w-auto!"
          aria-label="How fast time passes"
          value={pace}
          disabled={running}
          onChange={(event) => setPace(Number(event.target.value))}
        >
          {Object.entries(PACE_WORDS).map(([seconds, words]) => (
            <option key={seconds} value={seconds}>
              {words}
            </option>
          ))}
        </select>
        {running ? (
          <button type="button" className="button" onClick={end}>
            End the trial
          </button>
        ) : (
          <button type="button" className="button" disabled={busy} onClick={() => start(pace)}>
            Begin for me
          </button>
        )}
      </div>
    </div>
  );
}

const VERDICTS = { sent: '', done: 'would be done', 'passed-over': 'passed over', waits: 'waits' };

function Log({ trial: { log, ended, next, seconds_a_day: pace }, zone }: { trial: TrialView; zone: string }) {
  return (
    <ol className="mt-3 list-none p-0" aria-label="What the trial did" aria-live="polite">
      {log.map((stop, i) => (
        <li key={i} className="border-b border-rule py-1.5">
          <div className="flex justify-between gap-2 text-sm text-soft">
            <span className="tabular-nums">{dayAndTime(Date.parse(stop.at), zone)}</span>
            <span>day {stop.day}</span>
          </div>
          <span className="text-sm text-soft">
            {DEED_WORDS[stop.what as keyof typeof DEED_WORDS] ?? stop.what} {VERDICTS[stop.verdict]}{' '}
          </span>
          {stop.subject && <b>{stop.subject} </b>}
          <span className="[overflow-wrap:anywhere]">{stop.body}</span>
          {stop.reasons.length > 0 && (
            <p className="text-sm text-wait">{stop.reasons.map(({ means }) => means).join('; ')}</p>
          )}
        </li>
      ))}
      <li className="py-1.5 text-sm text-soft">
        {ended
          ? `Over: ${ended.why}.`
          : next
            ? `${PACE_WORDS[pace]}; the next comes at ${new Date(next).toLocaleTimeString('en-US', { timeZone: zone })}.`
            : 'A text is on its way.'}
      </li>
    </ol>
  );
}
