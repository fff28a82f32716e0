import { Link } from '@/ui/kit/link';
import { wilson } from '@/core/results/rates';
import type { WaveWhy } from '@/core/voicemail/waves';
import { count, plural } from '@/ui/kit/numbers';
import { ListTable } from '@/ui/kit/list-table';
import { RateLine } from '@/ui/results/result-lines';
import { shortTime } from '@/ui/kit/time';

interface Props {
  /** Voicemails that were left. */
  left: number;
  credits: number;
  calls: { called: number; reached: number; wrote: number; left_out: number; median: number | null };
  waves: readonly {
    id: number;
    at: Date;
    people: number;
    before: number;
    why: WaveWhy;
    called: number;
    expected: number;
  }[];
  now: number;
  zone: string;
}

/** So few say nothing of the next drop. */
const SMALL = 30;

const WHY: Record<WaveWhy, (wave: Props['waves'][number]) => string> = {
  'as-planned': () => 'as planned',
  'more-call': ({ called, expected, before }) =>
    `smaller than ${count(before)}: ${count(called)} rang back, about ${expected.toFixed(0)} were thought`,
  'fewer-call': ({ called, expected, before }) =>
    `larger than ${count(before)}: ${count(called)} rang back, about ${expected.toFixed(0)} were thought`,
  'nobody-there': () => 'held: nobody is at the phones, or voicemails may not be left now',
  'phones-full': ({ called, expected }) =>
    `held: the phones are full (${count(called)} rang back, about ${expected.toFixed(0)} were thought)`,
};

/** After how long half of them had called. */
function after(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  if (minutes < 60) return plural(minutes, 'minute');
  const hours = minutes / 60;
  return hours < 48 ? `${hours.toFixed(1)} hours` : plural(Math.round(hours / 24), 'day');
}

/** What a drop brought back: who rang, who was spoken to, who wrote, who left, and what a conversation cost. */
export function DropResults({ left, credits, calls, waves, now, zone }: Props) {
  const talks = calls.reached + calls.wrote;
  const lines = [
    { label: 'rang back', n: calls.called, rate: wilson(calls.called, left) },
    { label: 'of them spoken to', n: calls.reached, rate: wilson(calls.reached, calls.called) },
    { label: 'texted back', n: calls.wrote, rate: wilson(calls.wrote, left) },
    { label: 'opted out', n: calls.left_out, rate: wilson(calls.left_out, left) },
  ];
  return (
    <section className="mt-6">
      <h2 className="mb-1">What it brought back</h2>
      <ListTable
        label="What it brought back"
        rows={lines}
        rowKey={({ label }) => label}
        columns={[
          { title: 'They', cell: ({ label }) => label },
          { title: 'People', kind: 'number', cell: ({ n }) => count(n) },
          { title: 'Share', kind: 'number', cell: ({ rate }) => <RateLine rate={rate} /> },
        ]}
        empty=""
      />
      <p className="mt-2 text-soft">
        {left === 0
          ? 'Nothing was left yet.'
          : `Within seven days of being left${calls.median === null ? '' : `; half of those who rang had done so after ${after(calls.median)}`}. ${
              talks === 0
                ? 'No conversation came of it yet.'
                : `${plural(talks, 'conversation')} at ${(credits / talks).toFixed(1)} credits each.`
            }`}
        {left > 0 && left < SMALL && ' So few were left that the next drop may turn out quite differently.'}{' '}
        <Link className="link" href="/inbox/calls">
          Who waits for a call back
        </Link>
      </p>
      {waves.length > 0 && (
        <details className="mt-3" open={waves.some(({ why }) => why !== 'as-planned')}>
          <summary className="cursor-pointer">
            {plural(waves.filter(({ people }) => people > 0).length, 'wave')}
          </summary>
          <ListTable
            label="Waves"
            rows={[...waves].reverse()}
            rowKey={(wave) => String(wave.id)}
            columns={[
              { title: 'When', kind: 'when', cell: ({ at }) => shortTime(at, now, zone) },
              { title: 'Voicemails', kind: 'number', cell: ({ people }) => count(people) },
              { title: 'Why so many', cell: (wave) => WHY[wave.why](wave) },
            ]}
            empty=""
          />
        </details>
      )}
    </section>
  );
}
