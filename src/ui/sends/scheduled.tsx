'use client';
import { useEffect, useMemo, useState } from 'react';
import { REASON_WORDS } from '@/core/clearance/reasons';
import { displayNumber } from '@/core/phone/number';
import { askInSteps } from '@/ui/kit/ask';
import { Countdown } from '@/ui/kit/countdown';
import { count, plural } from '@/ui/kit/numbers';
import { shortTime } from '@/ui/kit/time';
import type { DraftReport } from './draft-report';
import { draftQuestion, type DraftValues, type When } from './draft-values';

interface Props {
  values: DraftValues;
  when: When;
  /** When the first of it leaves. */
  sendAt: number;
  now: number;
  zone: string;
}

/** So long before it goes out its seconds are counted. */
const SOON_MS = 5 * 60_000;

/** What a broadcast that waits for its time will do as things stand, and what would be otherwise if it went now. */
export function Scheduled({ values, when, sendAt, now, zone }: Props) {
  const then = useReport(values, when);
  const atOnce = useReport(values, NOW);
  const soon = sendAt - now < SOON_MS;
  return (
    <div className="mt-4">
      {soon && (
        <p className="mb-3 text-lg">
          It goes out <Countdown key={sendAt} to={sendAt} now={now} />.
        </p>
      )}
      {then === null ? (
        <p className="text-soft">Working out who gets it …</p>
      ) : typeof then === 'string' ? (
        <p className="text-bad">{then}</p>
      ) : (
        <dl className="grid grid-cols-[auto_1fr] gap-x-6">
          <Row label="As things stand">{headcount(then, zone)}</Row>
          <Row label="Why later">{reasonsOf(then, 'hold')}</Row>
          <Row label="Why not">{reasonsOf(then, 'block')}</Row>
          <Row label="Costs">
            {count(then.cost.credits)} credits for {plural(then.cost.parts, 'part')};{' '}
            {count(then.creditsLeft - then.cost.credits)} left after it
          </Row>
          <Row label="From">{sendersOf(then)}</Row>
          {atOnce !== null && typeof atOnce !== 'string' && !soon && (
            <Row label="If it went now">{differenceOf(atOnce, then, zone)}</Row>
          )}
        </dl>
      )}
    </div>
  );
}

const NOW: When = { kind: 'now', local: '' };

/** A fact; nothing where there is none. */
function Row({ label, children }: { label: string; children: React.ReactNode }) {
  if (children === '') return null;
  return (
    <>
      <dt className="border-b border-rule py-1.5 text-soft">{label}</dt>
      <dd className="border-b border-rule py-1.5">{children}</dd>
    </>
  );
}

/** Null: it is being worked out; a sentence: why it cannot be. */
function useReport(values: DraftValues, when: When): DraftReport | string | null {
  const [report, setReport] = useState<DraftReport | string | null>(null);
  const asked = JSON.stringify(draftQuestion(values, when, 0));
  const question = useMemo(() => JSON.parse(asked) as Record<string, string | null>, [asked]);
  useEffect(() => {
    const abort = new AbortController();
    askInSteps<DraftReport, object>('/internal/draft', { ...question, person: null }, abort.signal, () => {})
      .then(setReport)
      .catch((error: unknown) => abort.signal.aborted || setReport((error as Error).message));
    return () => abort.abort();
  }, [question]);
  return report;
}

function headcount({ report }: DraftReport, zone: string): string {
  const later = report.lines.filter(({ effect, latest }) => effect === 'hold' && latest !== null);
  const last = Math.max(0, ...later.map(({ latest }) => latest!));
  return [
    `${plural(report.people, 'person', 'people')}: ${count(report.cleared)} get it at once`,
    report.held > 0 &&
      `${count(report.held)} later${last > 0 ? `, the last by ${shortTime(last, 0, zone)}` : ''}`,
    `${count(report.blocked)} not`,
  ]
    .filter(Boolean)
    .join(', ');
}

const reasonsOf = ({ report }: DraftReport, effect: 'hold' | 'block'): string =>
  report.lines
    .filter((line) => line.effect === effect)
    .map(({ code, people }) => `${REASON_WORDS[code].short} (${count(people)})`)
    .join(', ');

const sendersOf = ({ senders }: DraftReport): string =>
  senders
    .filter(({ chosen, people }) => chosen && people > 0)
    .map(({ number, people }) => `${displayNumber(number)} to ${plural(people, 'person', 'people')}`)
    .join(', ');

function differenceOf(now: DraftReport, then: DraftReport, zone: string): string {
  const same = (['cleared', 'held', 'blocked'] as const).every((one) => now.report[one] === then.report[one]);
  return same ? 'the same people would get it, as soon' : headcount(now, zone);
}
