'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { askServer } from '@/ui/kit/ask';
import { type Wanted } from './draft-report';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { REASON_WORDS, type ReasonCode } from '@/core/clearance/reasons';
import { displayNumber } from '@/core/phone/number';
import { dayAndTime } from '@/ui/kit/time';
import { Link } from '@/ui/kit/link';
import { count, plural } from '@/ui/kit/numbers';

interface Behind {
  people: {
    personId: string;
    name: string;
    address: string | null;
    until: number | null;
    also: ReasonCode[];
  }[];
  total: number;
}

interface BehindProps {
  wanted: Wanted;
  question: Record<string, string | null>;
  zone: string;
  onClose(): void;
  onSample(personId: string): void;
}

/** The people behind a line of the report. */
export function BehindDialog({ wanted, question, zone, onClose, onSample }: BehindProps) {
  const [behind, setBehind] = useState<Behind | null>(null);
  const { verdict, code } = wanted;
  useEffect(() => {
    void askServer<Behind>('/internal/behind', { ...question, verdict, code }).then(
      setBehind,
      (error: Error) => toast(error.message),
    );
  }, [question, verdict, code]);
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <div className="fixed inset-0 bg-scrim" aria-hidden="true" />
      <div className="fixed inset-0 flex justify-center p-4 pt-[8vh]">
        <DialogPanel className="flex max-h-[80vh] w-full max-w-2xl flex-col border border-ink bg-paper p-5">
          <DialogTitle className="mb-3">
            {wanted.label}
            {behind && `: ${plural(behind.total, 'person', 'people')}`}
          </DialogTitle>
          <div className="min-h-0 overflow-y-auto" tabIndex={0} role="group" aria-label="People">
            {!behind && <p className="text-soft">Looking …</p>}
            {behind && (
              <ListTable
                label="People"
                rows={behind.people}
                rowKey={({ personId }) => personId}
                columns={behindColumns(zone, behind.people, onSample)}
                empty="Nobody is left in this line: it changed while you looked."
              />
            )}
            {behind && behind.total > behind.people.length && (
              <p className="mt-2 text-soft">
                The first {count(behind.people.length)} of {count(behind.total)}.
              </p>
            )}
          </div>
          <div className="mt-4">
            <button className="button" onClick={onClose}>
              Close
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const behindColumns = (
  zone: string,
  people: Behind['people'],
  onSample: (personId: string) => void,
): ListColumn<Behind['people'][number]>[] => [
  {
    title: 'Person',
    cell: ({ personId, name, address }) => (
      <Link className="link" href={`/people/${personId}`}>
        {name === address ? displayNumber(address) : name}
      </Link>
    ),
  },
  { title: 'Address', cell: ({ address }) => displayNumber(address) },
  {
    title: 'Until',
    kind: 'when',
    cell: ({ until }) => (until === null ? null : dayAndTime(until, zone)),
  },
  ...(people.some(({ also }) => also.length > 0)
    ? [
        {
          title: 'Applies too',
          cell: ({ also }: Behind['people'][number]) =>
            also.map((code) => REASON_WORDS[code].short).join('; '),
        },
      ]
    : []),
  {
    title: 'Show',
    quiet: true,
    cell: ({ personId }) => (
      <button type="button" className="link" onClick={() => onSample(personId)}>
        read their copy
      </button>
    ),
  },
];
