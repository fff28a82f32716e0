import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { Leaf } from '@/core/audience/condition';
import { parseCondition } from '@/core/audience/parse';
import { LeafEditor } from './leaf-editor';
import { ASKABLE } from '@/ui/testing/askable';

/** Draws the editor of a condition and keeps what it becomes. */
function edit(first: Leaf): { leaf(): Leaf } {
  let now = first;
  function Kept() {
    const [leaf, setLeaf] = useState(first);
    now = leaf;
    return <LeafEditor leaf={leaf} askable={ASKABLE} change={setLeaf} />;
  }
  render(<Kept />);
  return { leaf: () => now };
}

const choose = (label: string, words: string) =>
  userEvent.selectOptions(screen.getByRole('combobox', { name: label }), words);

const type = async (label: string, text: string) => {
  const box = screen.getByLabelText(label);
  await userEvent.clear(box);
  await userEvent.type(box, text);
};

describe('a condition about a field', () => {
  it('offers the values of a field that has some, and takes another', async () => {
    const { leaf } = edit({ ask: 'field', field: 'place', test: 'is', value: 'CO' });
    await choose('Value', 'Wyoming');
    expect(leaf()).toEqual({ ask: 'field', field: 'place', test: 'is', value: 'WY' });
  });

  it('keeps what was typed when it is asked another way', async () => {
    const { leaf } = edit({ ask: 'field', field: 'own.planet', test: 'is', value: 'Saturn' });
    await choose('Test', 'contains');
    expect(leaf()).toEqual({ ask: 'field', field: 'own.planet', test: 'contains', value: 'Saturn' });
    await choose('Test', 'is empty');
    expect(leaf()).toEqual({ ask: 'field', field: 'own.planet', test: 'empty' });
  });

  it('begins anew with a test that fits when another field is chosen', async () => {
    const { leaf } = edit({ ask: 'field', field: 'own.planet', test: 'starts', value: 'Sa' });
    await choose('Field', 'Birthday');
    expect(parseCondition(leaf()).ok).toBe(true);
    expect(leaf()).toMatchObject({ ask: 'field', field: 'own.birthday' });
    expect(leaf()).not.toHaveProperty('test', 'starts');
  });

  it('asks for two ends of a range', async () => {
    const { leaf } = edit({ ask: 'field', field: 'own.visits', test: 'between', from: '1', to: '9' });
    await type('From', '3');
    await type('To', '12.5');
    expect(leaf()).toEqual({ ask: 'field', field: 'own.visits', test: 'between', from: '3', to: '12.5' });
  });

  it('takes several values as they are typed, commas and spaces in between', async () => {
    const { leaf } = edit({ ask: 'field', field: 'own.planet', test: 'any-of', values: [] });
    const box = screen.getByLabelText('Values, with commas between');
    await userEvent.type(box, 'Mars, Saturn ,Io,');
    expect(leaf()).toEqual({
      ...{ ask: 'field', field: 'own.planet', test: 'any-of' },
      values: ['Mars', 'Saturn', 'Io'],
    });
    expect(box).toHaveProperty('value', 'Mars, Saturn ,Io,');
  });

  it.each([
    ['7', 7],
    ['99999', 3_660],
    ['', 0],
  ])('takes %j days as %d', async (typed, days) => {
    const { leaf } = edit({ ask: 'field', field: 'created', test: 'in-last', days: 30 });
    const box = screen.getByLabelText('Days');
    await userEvent.clear(box);
    if (typed) await userEvent.type(box, typed, { initialSelectionStart: 0, initialSelectionEnd: 9 });
    expect(leaf()).toMatchObject({ test: 'in-last', days });
  });

  it('says so when the field is not here any more', () => {
    edit({ ask: 'field', field: 'own.gone', test: 'is', value: 'x' });
    expect(screen.getByText('a field that is gone')).toBeDefined();
  });
});

describe('a condition about something with a name', () => {
  it.each([
    [{ ask: 'tag', id: 'lab_1', has: true }, 'Which tag', 'school', 'lab_2'],
    [{ ask: 'list', id: 'lab_9', has: true }, 'Which list', 'Open evening', 'lab_3'],
    [{ ask: 'segment', id: 'seg_9', has: false }, 'Which segment', 'Regulars', 'seg_1'],
  ] satisfies [Leaf, string, string, string][])('%j can be about another', async (first, label, name, id) => {
    const { leaf } = edit(first);
    await choose(label, name);
    expect(leaf()).toEqual({ ...first, id });
  });

  it('is turned round', async () => {
    const { leaf } = edit({ ask: 'tag', id: 'lab_1', has: true });
    await choose('Whether', 'without the tag');
    expect(leaf()).toEqual({ ask: 'tag', id: 'lab_1', has: false });
  });

  it('shows that the thing is gone instead of showing another', () => {
    edit({ ask: 'tag', id: 'lab_gone', has: true });
    expect(screen.getByRole('combobox', { name: 'Which tag' })).toHaveProperty('value', 'lab_gone');
    expect(screen.getByText('something gone')).toBeDefined();
  });

  it('about consent has a program and a state', async () => {
    const { leaf } = edit({ ask: 'consent', program: 'prg_1', state: 'in', has: true });
    await choose('Consent', 'never joined');
    await choose('Which program', 'Star Parties');
    expect(leaf()).toEqual({ ask: 'consent', program: 'prg_2', state: 'never', has: true });
  });
});

describe('a condition about what was sent', () => {
  const sent: Leaf = { ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'brc_1' } };

  it('can be about a program, or any text', async () => {
    const { leaf } = edit(sent);
    await choose('Of what', 'a text of');
    expect(leaf()).toEqual({ ...sent, of: { program: 'prg_1' } });
    await choose('Of what', 'any text');
    expect(leaf()).toEqual({ ...sent, of: {} });
  });

  it('asks for the reason only of texts that failed, and drops it with them', async () => {
    const { leaf } = edit(sent);
    expect(screen.queryByLabelText('Failed because')).toBeNull();
    await choose('Outcome', 'miss');
    const reasons = screen.getByRole('combobox', { name: 'Failed because' });
    await userEvent.selectOptions(reasons, [...reasons.querySelectorAll('option')].at(-1)!);
    expect(leaf()).toHaveProperty('failure');
    await choose('Outcome', 'get');
    expect(leaf()).toEqual(sent);
  });

  it('is of all time or of the last days', async () => {
    const { leaf } = edit(sent);
    await choose('When', 'in the last');
    expect(leaf()).toEqual({ ...sent, days: 90 });
    await choose('When', 'at any time');
    expect(leaf()).toEqual(sent);
  });

  it('counts texts', async () => {
    const { leaf } = edit({ ask: 'texts', test: 'at-most', count: 0, days: 7 });
    await choose('More or fewer', 'exactly');
    await userEvent.type(screen.getByLabelText('Number of texts'), '4');
    expect(leaf()).toEqual({ ask: 'texts', test: 'exactly', count: 4, days: 7 });
  });

  it('asks what they did', async () => {
    const { leaf } = edit({ ask: 'did', has: true, act: 'replied', of: {} });
    await choose('What they did', 'opt out after');
    await choose('Whether', 'who did not');
    expect(leaf()).toEqual({ ask: 'did', has: false, act: 'opted-out', of: {} });
  });
});

describe('a condition about consent', () => {
  it('may ask who joined lately, and never of nobody who never did', async () => {
    const { leaf } = edit({ ask: 'consent', program: 'prg_sky', state: 'in', has: true });
    await choose('When', 'in the last');
    expect(leaf()).toMatchObject({ state: 'in', days: 30 });
    await choose('Consent', 'left');
    await type('Days', '7');
    expect(leaf()).toMatchObject({ state: 'out', days: 7 });
    await choose('Consent', 'never joined');
    expect(leaf()).toEqual({ ask: 'consent', program: 'prg_sky', state: 'never', has: true });
    expect(screen.queryByLabelText('When')).toBeNull();
  });
});
