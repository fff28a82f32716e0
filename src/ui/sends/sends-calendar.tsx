'use client';
import { Link } from '@/ui/kit/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState, useTransition } from 'react';
import { toast } from 'sonner';
import type { CalendarWeek } from '@/core/broadcast/calendar';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { Millis } from '@/core/shared/instant';
import { askServer } from '@/ui/kit/ask';
import { plural } from '@/ui/kit/numbers';
import { clockTime, isSameDay } from '@/ui/kit/time';
import { BroadcastMark } from './broadcast-state';

interface Entry {
  id: string;
  name: string;
  program: string;
  state: BroadcastState;
  at: Millis;
  /** The hour is meant where each of them lives. */
  each: boolean;
  repeats: boolean;
}

interface Props {
  weeks: CalendarWeek[];
  rows: Entry[];
  zone: string;
  now: Millis;
  /** Moves one by days; null: it did, else why not. */
  move(id: string, days: number): Promise<string | null>;
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** Days by which a key moves what it is pressed on. */
const KEYS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

/** Weeks with what went and what is to go. What is scheduled is dragged to another day, or moved by Alt and an arrow. */
export function SendsCalendar({ weeks, rows, zone, now, move }: Props) {
  const { shift, moving } = useMove(move);
  const [dragged, setDragged] = useState<{ id: string; day: number } | null>(null);
  const [over, setOver] = useState<number | null>(null);
  return (
    <>
      <table className="w-full table-fixed border-collapse max-sm:block" aria-busy={moving}>
        <caption className="mb-2 max-sm:hidden text-left text-sm text-soft">
          What is scheduled can be dragged to another day; or moved with Alt and an arrow key where it has the
          focus.
        </caption>
        <thead className="max-sm:sr-only">
          <tr>
            {DAYS.map((day) => (
              <th key={day} scope="col" className="pb-1 text-left text-sm font-normal text-soft">
                {day}
              </th>
            ))}
          </tr>
        </thead>
        {weeks.map((week) => (
          <tbody key={week.from} className="max-sm:block">
            <tr className="max-sm:block">
              {week.days.map((day, i) => {
                const next = week.days[i + 1]?.from ?? week.to;
                const today = isSameDay(now, day.from + 1, zone);
                const entries = rows.filter(({ at }) => at >= day.from && at < next);
                return (
                  <td
                    key={day.number}
                    className={`h-24 border border-rule p-1.5 align-top max-sm:block max-sm:h-auto ${entries.length === 0 && !today ? 'max-sm:hidden' : ''} ${over === day.number ? 'bg-paper-2' : ''} ${today ? 'border-t-2 border-t-accent' : ''}`}
                    onDragOver={(event) => {
                      if (!dragged || next <= now) return;
                      event.preventDefault();
                      setOver(day.number);
                    }}
                    onDragLeave={() => setOver(null)}
                    onDrop={() => {
                      setOver(null);
                      if (dragged && dragged.day !== day.number) shift(dragged.id, day.number - dragged.day);
                    }}
                  >
                    <div className={`text-sm ${next <= now ? 'text-soft' : ''}`}>
                      <span className="sm:hidden">{DAYS[i]} </span>
                      {dateWords(day.date)}
                      {today && ', today'}
                    </div>
                    <ul>
                      {entries.map((row) => (
                        <CalendarEntry
                          key={row.id}
                          row={row}
                          zone={zone}
                          shift={(days) => shift(row.id, days)}
                          drag={() => setDragged({ id: row.id, day: day.number })}
                        />
                      ))}
                    </ul>
                  </td>
                );
              })}
            </tr>
            <Several week={week} rows={rows} now={now} />
          </tbody>
        ))}
      </table>
    </>
  );
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** `26`, and the month with its first day. */
const dateWords = (date: string): string => {
  const [, month, day] = date.split('-').map(Number) as [number, number, number];
  return day === 1 ? `${MONTHS[month - 1]} 1` : String(day);
};

function CalendarEntry({
  row,
  zone,
  shift,
  drag,
}: {
  row: Entry;
  zone: string;
  shift(days: number): void;
  drag(): void;
}) {
  const movable = row.state === 'scheduled';
  return (
    <li
      className={`mt-1 text-sm leading-snug ${movable ? 'cursor-grab border-l-2 border-wait pl-1.5' : ''}`}
      draggable={movable}
      onDragStart={drag}
      onKeyDown={(event) => {
        const days = event.altKey ? KEYS[event.key] : undefined;
        if (!movable || days === undefined) return;
        event.preventDefault();
        shift(days);
      }}
    >
      <span className="tabular-nums">{clockTime(row.at, zone)}</span>{' '}
      <Link href={`/sends/${row.id}`} className="link" draggable={false}>
        {row.name}
      </Link>{' '}
      <span className="text-soft">{row.program}</span>
      {row.each && <span className="text-soft">, their own hour</span>}
      {row.repeats && <span className="text-soft">, again and again</span>}
      {row.state !== 'finished' && (
        <>
          {' '}
          <BroadcastMark state={row.state} />
        </>
      )}
    </li>
  );
}

/** How many people get several of what a week still holds. */
function Several({ week, rows, now }: { week: CalendarWeek; rows: Entry[]; now: Millis }) {
  const [found, setFound] = useState<{ several: number; most: number } | null>(null);
  const ahead = rows.filter(({ state, at }) => state === 'scheduled' && at >= week.from && at < week.to);
  const asked = ahead.length > 1 && week.to > now;
  const which = ahead.map(({ id }) => id).join();
  useEffect(() => {
    if (!asked) return;
    const abort = new AbortController();
    askServer<{ several: number; most: number }>(
      '/internal/pile-up',
      { from: String(week.from), to: String(week.to) },
      abort.signal,
    ).then(setFound, () => {});
    return () => abort.abort();
  }, [asked, which, week.from, week.to]);
  if (!asked || !found || found.several === 0) return null;
  return (
    <tr>
      <td colSpan={7} className="border border-rule px-1.5 py-1 text-sm text-wait">
        {plural(found.several, 'person gets', 'people get')} several of these, {found.most} at most.
      </td>
    </tr>
  );
}

function useMove(move: Props['move']) {
  const router = useRouter();
  const [moving, start] = useTransition();
  const shift = (id: string, days: number) => {
    if (moving) return;
    start(async () => {
      const problem = await move(id, days);
      if (problem) toast(problem);
      else
        toast('Moved.', {
          action: {
            label: 'Undo',
            onClick: () => start(async () => void (await move(id, -days), router.refresh())),
          },
        });
      router.refresh();
    });
  };
  return { shift, moving };
}
