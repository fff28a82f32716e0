import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useImperativeHandle, useState, type Ref } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { MERGE_FIELDS, type MergeField } from '@/core/text/fields';
import type { Swap } from '@/core/text/swaps';
import type { Checked } from './use-findings';
import { Writer } from './writer';

const undone = vi.fn();
/** The editor measures itself as no imitated browser can; a box for text stands in for it. */
vi.mock('./text-editor', () => ({
  TextEditor: (props: {
    ref: Ref<unknown>;
    initial: string;
    labelledBy: string;
    onChange(body: string): void;
    onSwapped(swaps: Swap[]): void;
  }) => {
    const [body, setBody] = useState(props.initial);
    const put = (text: string) => (setBody(text), props.onChange(text));
    useImperativeHandle(props.ref, () => ({
      insertField: ({ name, fallback }: { name: string; fallback: string | null }) =>
        put(`${body}[${name} ${fallback}]`),
      insert: (words: string) => put(body + words),
      replace: put,
      undo: undone,
      show: () => {},
    }));
    const swap = { index: 0, from: '“', to: '"', name: 'curly quote' };
    return (
      <>
        <textarea
          aria-labelledby={props.labelledBy}
          value={body}
          onChange={(event) => put(event.target.value)}
        />
        <button onClick={() => props.onSwapped([swap, swap])}>paste</button>
      </>
    );
  },
}));

let answer: object;
beforeEach(() => {
  answer = { findings: [] };
  vi.stubGlobal('fetch', async () => ({ ok: true, json: () => Promise.resolve(answer) }));
});

function Desk({
  initial,
  fields = MERGE_FIELDS,
  checked,
}: {
  initial: string;
  fields?: readonly MergeField[];
  checked?: Checked;
}) {
  const [value, setValue] = useState(initial);
  return (
    <Writer
      label="Text"
      {...{ initial, value, fields }}
      onChange={setValue}
      counts
      {...(checked ? { checked } : {})}
    />
  );
}
const box = () => screen.getByRole('textbox', { name: 'Text' });

describe('the editor', () => {
  it('counts as one types, and says what makes it dear', async () => {
    render(<Desk initial="Hi" />);
    expect(document.body.textContent).toContain('2 characters, 1 part, GSM-7; 158 left in the last part');
    await userEvent.type(box(), ' 👋');
    expect(document.body.textContent).toContain('4 characters, 1 part, UCS-2 because of 👋; 65 left');
  });

  it('counts a field by the words that stand where it is empty', () => {
    render(<Desk initial="Hi {$person.first_name :wren:field fallback=friend}" />);
    expect(document.body.textContent).toContain('9 characters');
  });

  it('lets one say what stands where a field is empty, wherever it is', async () => {
    const field = '{$person.first_name :wren:field fallback=x}';
    render(<Desk initial={`Hi ${field}, ${field}`} />);
    await userEvent.type(screen.getByRole('textbox', { name: /^If first name is empty/ }), 'y');
    expect(box()).toHaveProperty(
      'value',
      'Hi {$person.first_name :wren:field fallback=xy}, {$person.first_name :wren:field fallback=xy}',
    );
  });

  it('says what was swapped of what was pasted, and puts it back', async () => {
    render(<Desk initial="Hi" />);
    await userEvent.click(screen.getByRole('button', { name: 'paste' }));
    expect(screen.getByRole('status').textContent).toContain(
      '2 characters of what you pasted were swapped for plain ones (curly quote).',
    );
    await userEvent.click(screen.getByRole('button', { name: 'Put them back' }));
    expect(undone).toHaveBeenCalled();
    expect(screen.queryByRole('status')).toBeNull();
  });

  it('keeps own fields a press away', async () => {
    const own = { name: 'person.fields.plan', label: 'plan', fallback: null };
    render(<Desk initial="" fields={[...MERGE_FIELDS, own]} />);
    expect(screen.queryByRole('button', { name: 'plan' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'your fields' }));
    await userEvent.click(await screen.findByRole('button', { name: 'plan' }));
    expect(box()).toHaveProperty('value', '[person.fields.plan null]');
  });

  it('says what the check finds, and mends it', async () => {
    answer = {
      findings: [
        {
          ...{
            code: 'shouting',
            severity: 'should',
            message: 'One mark says it.',
            place: { from: 2, to: 5 },
          },
          mending: { label: 'Leave one mark', changes: [{ from: 2, to: 5, insert: '!' }] },
        },
      ],
    };
    render(<Desk initial="Hi!!!" checked={{ program: null, channel: 'sms', answers: true }} />);
    expect(await screen.findByText('One mark says it.')).toBeDefined();
    answer = { findings: [] };
    await userEvent.click(screen.getByRole('button', { name: 'Leave one mark' }));
    expect(box()).toHaveProperty('value', 'Hi!');
    await vi.waitFor(() => expect(screen.queryByText('One mark says it.')).toBeNull());
  });
});
