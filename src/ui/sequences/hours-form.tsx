'use client';
import { useState } from 'react';
import type { SequenceDocument } from '@/core/sequence/document';
import { FilePicker } from '@/ui/kit/file-picker';
import { Problem } from '@/ui/kit/problem';
import { Span, Time, Weekdays } from './pickers';

interface Props {
  document: SequenceDocument;
  today: string;
  change(next: (document: SequenceDocument) => SequenceDocument): void;
}

/** When it may act: weekdays, hours, days off, and how far its messages keep apart. */
export function Hours({ document, change, today }: Props) {
  const { hours } = document;
  const set = (more: Partial<NonNullable<SequenceDocument['hours']>>) =>
    change((one) => ({ ...one, hours: { ...(one.hours ?? USUAL), ...more } }));
  return (
    <fieldset className="grid gap-3">
      <legend className="mb-1 font-semibold">When it may act</legend>
      <label className="flex items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          checked={hours !== null}
          onChange={(event) => change((one) => ({ ...one, hours: event.target.checked ? USUAL : null }))}
        />
        only on some days and hours, where the person lives (an answer to their own act goes at any hour)
      </label>
      {hours && (
        <div className="flex flex-wrap items-end gap-3">
          <Weekdays value={hours.days} onDays={(days) => set({ days })} />
          <Time label="From" value={hours.from} onTime={(from) => set({ from })} />
          <Time label="To" value={hours.to} onTime={(to) => set({ to })} />
          <Span
            label="Least distance between two messages"
            minutes={hours.apart_minutes}
            onSpan={(apart_minutes) => set({ apart_minutes })}
          />
          <Holidays days={hours.holidays} today={today} onDays={(holidays) => set({ holidays })} />
        </div>
      )}
    </fieldset>
  );
}

const USUAL = { days: [1, 2, 3, 4, 5], from: '09:00', to: '17:00', holidays: [], apart_minutes: 1_440 };

/** Days it does nothing on: one by one, or all of a calendar file. */
function Holidays({
  days,
  today,
  onDays,
}: {
  days: readonly string[];
  today: string;
  onDays(days: string[]): void;
}) {
  const [problem, setProblem] = useState<string | null>(null);
  const add = (more: readonly string[]) =>
    onDays([...new Set([...days, ...more])].sort().slice(0, MOST_HOLIDAYS));
  const read = async (file: File) => {
    const { readHolidays } = await import('@/core/sequence/holidays');
    const found = readHolidays(await file.text(), { from: today, years: 3 });
    setProblem(found.ok ? null : found.reason);
    if (found.ok) add(found.value.map(({ day }) => day));
  };
  return (
    <div className="grid w-full gap-2 text-sm">
      <div className="flex flex-wrap items-end gap-3">
        <label className="text-soft">
          A day it does nothing on
          <input
            type="date"
            className="input mt-1 w-auto! text-ink"
            onChange={(event) => {
              if (event.target.value >= '2000') add([event.target.value]);
            }}
          />
        </label>
        <FilePicker accept=".ics,text/calendar" look="link" onFile={(file) => void read(file)}>
          from a calendar file (.ics)
        </FilePicker>
        {days.length > 0 && (
          <button type="button" className="link" onClick={() => onDays([])}>
            none
          </button>
        )}
      </div>
      {days.length > 0 && (
        <ul
          className="flex max-h-32 list-none flex-wrap gap-x-3 gap-y-1 overflow-auto p-0"
          aria-label="Days it does nothing on"
        >
          {days.map((day) => (
            <li key={day} className="tabular-nums">
              {day}{' '}
              <button
                type="button"
                className="link"
                aria-label={`Not ${day}`}
                onClick={() => onDays(days.filter((one) => one !== day))}
              >
                out
              </button>
            </li>
          ))}
        </ul>
      )}
      <Problem>{problem}</Problem>
    </div>
  );
}

/** As many as the schema lets in. */
const MOST_HOLIDAYS = 400;
