import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { ITEM_STATE_WORDS, itemRefusal } from '@/core/item/item';
import { itemOf } from '@/services/items/fill-items';
import { readItems, type ItemLine } from '@/services/items/items';
import { keptPictures } from '@/services/media/files';
import { ImportItems, ItemForm } from '@/ui/items/item-form';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { dayAndTime, dayOf } from '@/ui/kit/time';
import { readScreen } from '../../../session';
import { importItemsAction, putItemAction } from './actions';

export const metadata: Metadata = { title: 'What is on' };

export default async function ItemsPage() {
  const { data, session } = await readScreen(async (scope, _, now) => ({
    now,
    lines: await readItems({ now: () => now }, scope),
    pictures: (await keptPictures(scope)).map(({ id, name }) => ({ id, name })),
  }));
  return (
    <Page
      title="What is on"
      margin={
        <>
          <Section title="How they are used">
            <p className="text-soft">
              In any text, type <kbd>#</kbd> where a word begins, and a part of the name or number. What it
              says follows what stands here until it leaves; what is over or sold out is told while you write.
            </p>
          </Section>
          <Section title="From a file">
            <p className="mb-2 text-sm text-soft">
              Taken in again, what has the same number, or the same place in the calendar, is changed.
            </p>
            <ImportItems action={importItemsAction} />
          </Section>
          <Section title="Add one">
            <ItemForm action={putItemAction} item={null} pictures={data.pictures} />
          </Section>
        </>
      }
    >
      <ListTable
        label="What is on"
        rows={data.lines}
        rowKey={({ item }) => item.id}
        columns={columns(session.workspaceZone, data.now)}
        empty="Nothing is kept yet: add an event, a tour or an article, or take a table or calendar in."
      />
    </Page>
  );
}

const columns = (zone: string, now: number): ListColumn<ItemLine>[] => [
  { title: 'Number', cell: ({ item }) => item.number },
  {
    title: 'Name',
    cell: ({ item }) => (
      <>
        <Link className="link" href={`/sends/items/${item.id}`}>
          {item.name}
        </Link>
        <span className="text-soft">{item.kind === 'event' ? '' : `, ${item.kind}`}</span>
      </>
    ),
  },
  {
    title: 'When',
    cell: ({ item: { startsAt, allDay } }) =>
      startsAt === null ? (
        <span className="text-soft">at any time</span>
      ) : allDay ? (
        dayOf(startsAt, zone)
      ) : (
        dayAndTime(startsAt, zone)
      ),
  },
  { title: 'Place', cell: ({ item }) => item.place },
  { title: 'Price', cell: ({ item }) => item.price },
  {
    title: 'State',
    cell: ({ item }) => {
      const why = itemRefusal(itemOf(item), now);
      if (why === null) return <Mark tone="good">{ITEM_STATE_WORDS.on}</Mark>;
      return (
        <Mark tone={why === 'over' ? 'plain' : 'bad'}>{why === 'over' ? 'over' : ITEM_STATE_WORDS[why]}</Mark>
      );
    },
  },
  {
    title: 'People told',
    kind: 'number',
    cell: ({ told, item }) =>
      told === 0 ? (
        <span className="text-soft">0</span>
      ) : (
        <Link className="link" href={`/people?cut=${encodeURIComponent(JSON.stringify(toldOf(item.id)))}`}>
          {count(told)}
        </Link>
      ),
  },
];

const toldOf = (item: string) => ({ all: [{ ask: 'sent', has: true, outcome: 'got', of: { item } }] });
