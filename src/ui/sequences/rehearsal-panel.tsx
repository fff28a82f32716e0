'use client';
import { useEffect, useState } from 'react';
import type { SequenceDocument } from '@/core/sequence/document';
import { DEED_WORDS } from '@/core/sequence/words';
import { askServer } from '@/ui/kit/ask';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime } from '@/ui/kit/time';
import type { ItineraryView } from './types';

interface Props {
  document: SequenceDocument;
  zone: string;
}

interface Pretended {
  day: number;
  kind: 'reply' | 'click' | 'opt-out';
}

const KIND_WORDS = { reply: 'replies', click: 'follows a link', 'opt-out': 'opts out' };

/** Plays what is being written for one person: the dated itinerary of the very engine that runs it. */
export function RehearsalPanel({ document, zone }: Props) {
  const [person, setPerson] = useState<{ id: string; name: string } | null>(null);
  const [prompted, setPrompted] = useState(true);
  const [events, setEvents] = useState<Pretended[]>([]);
  const [start, setStart] = useState('');
  const { itinerary, problem, busy } = useItinerary({
    document,
    person: person?.id ?? null,
    prompted,
    events,
    start,
  });
  return (
    <Section title="Rehearsal" note={busy ? 'playing …' : undefined}>
      <PersonChoice person={person} choose={setPerson} />
      <label className="mt-2 flex items-center gap-1.5 text-sm">
        <input type="checkbox" checked={prompted} onChange={(event) => setPrompted(event.target.checked)} />
        begins by an act of theirs
      </label>
      <label className="mt-2 flex flex-wrap items-center gap-1.5 text-sm">
        on
        <input
          className="input w-auto! py-0.5!"
          type="datetime-local"
          value={start}
          onChange={(event) => setStart(event.target.value)}
        />
        {start === '' ? (
          <span className="text-soft">now</span>
        ) : (
          <button type="button" className="link" onClick={() => setStart('')}>
            now
          </button>
        )}
      </label>
      <Events events={events} change={setEvents} />
      <Problem>{problem}</Problem>
      {itinerary && <Itinerary itinerary={itinerary} zone={zone} />}
    </Section>
  );
}

function useItinerary({
  document,
  person,
  prompted,
  events,
  start,
}: {
  document: SequenceDocument;
  person: string | null;
  prompted: boolean;
  events: Pretended[];
  start: string;
}) {
  const [itinerary, setItinerary] = useState<ItineraryView | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const json = JSON.stringify({ document, person, prompted, events });
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      setBusy(true);
      askServer<ItineraryView>(
        '/internal/rehearsal',
        {
          document: JSON.stringify(document),
          person,
          prompted: String(prompted),
          from: start,
          events: JSON.stringify(events),
        },
        abort.signal,
      )
        .then((answer) => {
          setItinerary(answer);
          setProblem(null);
        })
        .catch((error: Error) => {
          if (!abort.signal.aborted) setProblem(error.message);
        })
        .finally(() => setBusy(false));
    }, 350);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
    // The words of what is asked say when it changes; the parts are made anew at each drawing.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [json, start]);
  return { itinerary, problem, busy };
}

function PersonChoice({
  person,
  choose,
}: {
  person: { id: string; name: string } | null;
  choose(person: { id: string; name: string } | null): void;
}) {
  const [typed, setTyped] = useState('');
  const [found, setFound] = useState<{ kind: string; id: string; label: string }[]>([]);
  useEffect(() => {
    if (typed.trim().length < 2) return;
    const timer = setTimeout(() => {
      void fetch(`/internal/find?q=${encodeURIComponent(typed)}`)
        .then((response) => response.json() as Promise<{ kind: string; id: string; label: string }[]>)
        .then((items) => setFound(items.filter(({ kind }) => kind === 'person').slice(0, 5)))
        .catch(() => setFound([]));
    }, 250);
    return () => clearTimeout(timer);
  }, [typed]);
  if (person)
    return (
      <p className="text-sm">
        For <b>{person.name}</b>{' '}
        <button type="button" className="link" onClick={() => choose(null)}>
          somebody made up instead
        </button>
      </p>
    );
  return (
    <div>
      <label className="text-sm text-soft">
        For somebody made up; or find a person
        <input
          className="input mt-1 text-ink"
          value={typed}
          maxLength={80}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      {typed.trim().length >= 2 && (
        <ul className="mt-1">
          {found.map(({ id, label }) => (
            <li key={id}>
              <button
                type="button"
                className="link"
                onClick={() => {
                  choose({ id, name: label });
                  setTyped('');
                }}
              >
                {label}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function Events({ events, change }: { events: Pretended[]; change(events: Pretended[]): void }) {
  return (
    <div className="mt-2">
      {events.map(({ day, kind }, i) => (
        <div key={i} className="flex flex-wrap items-center gap-2 py-0.5 text-sm">
          <span>pretend:</span>
          <select
            className="input w-auto! py-0.5!"
            aria-label="What is pretended"
            value={kind}
            onChange={(event) =>
              change(
                events.map((one, at) =>
                  at === i ? { ...one, kind: event.target.value as Pretended['kind'] } : one,
                ),
              )
            }
          >
            {Object.entries(KIND_WORDS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1">
            after days
            <input
              type="number"
              className="input w-16! py-0.5!"
              min={0}
              max={400}
              step="any"
              value={day}
              onChange={(event) =>
                change(
                  events.map((one, at) =>
                    at === i ? { ...one, day: Math.max(0, Number(event.target.value) || 0) } : one,
                  ),
                )
              }
            />
          </label>
          <button type="button" className="link" onClick={() => change(events.filter((_, at) => at !== i))}>
            out
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link text-sm"
        onClick={() => change([...events, { day: 3, kind: 'reply' }])}
      >
        pretend that something happens
      </button>
    </div>
  );
}

const VERDICTS = { sent: '', done: '', 'passed-over': 'passed over', waits: 'waits' };

function Itinerary({
  itinerary: { itinerary, ended, goes_on: goesOn },
  zone,
}: {
  itinerary: ItineraryView;
  zone: string;
}) {
  return (
    <ol className="mt-3 list-none p-0" aria-label="Itinerary">
      {itinerary
        .filter(({ what, verdict }) => what !== 'fork' || verdict !== 'done')
        .map((stop, i) => (
          <li key={`${stop.line} ${i}`} className="border-b border-rule py-1.5">
            <div className="flex justify-between gap-2 text-sm text-soft">
              <span className="tabular-nums">{dayAndTime(Date.parse(stop.at), zone)}</span>
              <span>day {stop.day}</span>
            </div>
            <div>
              <span className="text-sm text-soft">
                {DEED_WORDS[stop.what as keyof typeof DEED_WORDS] ?? stop.what}
                {stop.by === 'chat' ? ' by chat' : ''}
                {stop.answer ? ', answer' : ''} {VERDICTS[stop.verdict]}{' '}
              </span>
              {stop.subject && <b>{stop.subject} </b>}
              <span className="[overflow-wrap:anywhere]">
                {stop.body && stop.body.length > 220 ? `${stop.body.slice(0, 220)}…` : stop.body}
              </span>
            </div>
            {stop.put_off_minutes !== undefined && (
              <p className="text-sm text-wait">
                put off {heldWords(stop.put_off_minutes)} by the hours of the sequence
              </p>
            )}
            {stop.reasons.length > 0 && (
              <p className="text-sm text-wait">
                {stop.held_minutes ? `held ${heldWords(stop.held_minutes)}: ` : ''}
                {stop.reasons.map(({ means }) => means).join('; ')}
              </p>
            )}
            {stop.parts !== undefined && stop.what !== 'email' && (
              <p className="text-sm text-soft">
                {plural(stop.parts, 'part')}, {plural(stop.credits ?? 0, 'credit')}
              </p>
            )}
          </li>
        ))}
      <li className="py-1.5 text-sm text-soft">
        {ended
          ? `Over ${dayAndTime(Date.parse(ended.at), zone)}: ${ended.means}.`
          : goesOn
            ? 'It waits for somebody, or goes on after three years.'
            : 'It ends here.'}
      </li>
    </ol>
  );
}

const heldWords = (minutes: number): string =>
  minutes >= 120 ? `${Math.round(minutes / 60)} h` : `${minutes} min`;
