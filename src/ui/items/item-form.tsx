'use client';
import { TABLE_FILES } from '@/core/import/file-format';
import { ITEM_KINDS, ITEM_STATES, ITEM_STATE_WORDS, type ItemKind, type ItemState } from '@/core/item/item';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** As fields hold it; times are the workspace’s. */
export interface ItemValues {
  number: string;
  kind: ItemKind;
  name: string;
  place: string;
  price: string;
  link: string;
  picture: string;
  starts: string;
  ends: string;
  allDay: boolean;
  state: ItemState;
}

interface Props {
  action: Act;
  /** Null: a new one. */
  item: ItemValues | null;
  pictures: readonly { id: string; name: string }[];
}

/** Something to write about, by hand. */
export function ItemForm({ action, item, pictures }: Props) {
  return (
    <Form action={action} submit={item ? 'Keep it' : 'Add it'} main={item !== null}>
      {(state) => {
        const text = (name: keyof ItemValues & string, label: string, more: object = {}) => (
          <Field
            name={name}
            label={label}
            state={state}
            {...(item ? { defaultValue: String(item[name]) } : {})}
            {...more}
          />
        );
        return (
          <>
            {text('name', 'Name', { maxLength: 120 })}
            {item ? (
              <input type="hidden" name="number" value={item.number} />
            ) : (
              text('number', 'Its number; empty: the next free one', { maxLength: 40 })
            )}
            {text('kind', 'Kind', {
              as: 'select',
              children: ITEM_KINDS.map((kind) => <option key={kind}>{kind}</option>),
            })}
            {text('starts', 'Begins', { type: 'datetime-local' })}
            {text('ends', 'Ends', { type: 'datetime-local' })}
            <label className="mb-3 flex items-baseline gap-2">
              <input type="checkbox" name="all_day" defaultChecked={item?.allDay ?? false} /> all day: no hour
              is named
            </label>
            {text('place', 'Place', { maxLength: 120 })}
            {text('price', 'Price, as a text says it', { maxLength: 40, placeholder: '12 USD' })}
            {text('link', 'Where more of it stands', { type: 'url', maxLength: 500 })}
            {text('picture', 'Picture', {
              as: 'select',
              children: [
                <option key="" value="">
                  none
                </option>,
                ...pictures.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                )),
              ],
            })}
            {text('state', 'State', {
              as: 'select',
              children: ITEM_STATES.map((one) => (
                <option key={one} value={one}>
                  {ITEM_STATE_WORDS[one]}
                </option>
              )),
            })}
          </>
        );
      }}
    </Form>
  );
}

/** A table or a calendar, as a file. */
export function ImportItems({ action }: { action: Act }) {
  return (
    <Form action={action} submit="Take the file in" main={false}>
      {(state) => (
        <>
          <label className="mb-2 block text-sm text-soft">
            A table (CSV, XLSX, ODS, XLS) or a calendar (.ics)
            <input
              type="file"
              name="file"
              accept={`${TABLE_FILES},.ics,text/calendar`}
              className="mt-1 block w-full text-ink"
            />
          </label>
          {state.problems.length > 0 && <p className="mb-2 text-sm text-bad">{state.problems[0]!.message}</p>}
        </>
      )}
    </Form>
  );
}
