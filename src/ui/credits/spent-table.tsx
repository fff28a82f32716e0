import { ENTRY_WORDS, type EntryKind } from '@/core/credits/ledger';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Link } from '@/ui/kit/link';

export interface Line {
  kind: EntryKind;
  channel: Channel | null;
  program: string | null;
  send_id: string | null;
  send: string | null;
  send_kind: string | null;
  delta: number;
  texts: number;
}

interface Row {
  key: string;
  program: string;
  what: string;
  href: string | null;
  messages: number | null;
  credits: number;
}

const PLACES: Record<string, string> = { broadcast: '/sends/', sequence: '/programs/sequences/' };

/** Where credits went, by program and what sent them; what came and went otherwise, below. */
export function SpentTable({ lines }: { lines: readonly Line[] }) {
  return (
    <ListTable
      label="Where credits went"
      rows={rowsOf(lines)}
      columns={[
        { title: 'Program', cell: ({ program }) => program },
        {
          title: 'What',
          cell: ({ what, href }) =>
            href ? (
              <Link className="link" href={href}>
                {what}
              </Link>
            ) : (
              what
            ),
        },
        {
          title: 'Messages',
          kind: 'number',
          cell: ({ messages }) => (messages === null ? null : count(messages)),
        },
        {
          title: 'Credits',
          kind: 'number',
          cell: ({ credits }) => (credits > 0 ? `+${count(credits)}` : count(-credits)),
        },
      ]}
      rowKey={({ key }) => key}
      empty="Nothing came or went in these days."
    />
  );
}

/** A line for each send of a program, with what was given back taken off; the dearest first. */
export function rowsOf(lines: readonly Line[]): Row[] {
  const rows = new Map<string, Row>();
  for (const { kind, channel, program, send_id: id, send, send_kind: sendKind, delta, texts } of lines) {
    const message = kind === 'messages' || kind === 'returned';
    const key = message ? JSON.stringify([program, id ?? channel]) : kind;
    const row = rows.get(key) ?? {
      ...{
        key,
        program: program ?? '',
        href: id && sendKind && PLACES[sendKind] ? PLACES[sendKind] + id : null,
      },
      what: message
        ? (send ?? `answers and keywords, ${channel ? CHANNEL_WORDS[channel].by : ''}`)
        : ENTRY_WORDS[kind].word,
      ...{ messages: message ? 0 : null, credits: 0 },
    };
    rows.set(key, {
      ...row,
      messages: row.messages === null ? null : row.messages + texts,
      credits: row.credits + delta,
    });
  }
  return [...rows.values()].sort((a, b) => a.credits - b.credits);
}
