import type { Rate } from '@/core/results/rates';
import { RateLine } from '@/ui/results/result-lines';
import type { ListColumn } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';

interface OutcomeLine {
  label: string;
  people: number;
  delivered: number;
  failed: number;
  reply: Rate;
  click: Rate;
  optOut: Rate;
}

/** Columns of a broadcast's outcome by group. */
export const outcomeColumns = (title: string): ListColumn<OutcomeLine>[] => [
  { title: title.charAt(0).toUpperCase() + title.slice(1), cell: ({ label }) => label },
  { title: 'People', kind: 'number', cell: ({ people }) => count(people) },
  { title: 'Delivered', kind: 'number', cell: ({ delivered }) => count(delivered) },
  { title: 'Failed', kind: 'number', cell: ({ failed }) => count(failed) },
  { title: 'Replied', kind: 'number', cell: ({ reply }) => <RateLine rate={reply} /> },
  { title: 'Clicked', kind: 'number', cell: ({ click }) => <RateLine rate={click} /> },
  { title: 'Opted out', kind: 'number', cell: ({ optOut }) => <RateLine rate={optOut} /> },
];
