import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { Condition } from '@/core/audience/condition';
import { CutBuilder } from './cut-builder';
import { ASKABLE } from '@/ui/testing/askable';

interface Start {
  condition: Condition;
  counts?: number[] | null;
  problems?: { path: string; message: string }[];
}

function build({ condition: first, counts = null, problems = [] }: Start): { condition(): Condition } {
  let now = first;
  function Kept() {
    const [condition, setCondition] = useState(first);
    now = condition;
    return <CutBuilder {...{ condition, counts, problems }} askable={ASKABLE} change={setCondition} />;
  }
  render(<Kept />);
  return { condition: () => now };
}

const MEMBER: Condition = { ask: 'tag', id: 'lab_1', has: true };
const SCHOOL: Condition = { ask: 'tag', id: 'lab_2', has: true };
const REGULAR: Condition = { ask: 'segment', id: 'seg_1', has: true };

const typeCondition = async (text: string, chosen: string | RegExp) => {
  const box = screen.getAllByRole('combobox', { name: 'Add a condition' }).at(-1)!;
  await userEvent.type(box, text);
  await userEvent.click(await screen.findByRole('option', { name: chosen }));
};

describe('a cut', () => {
  it('begins empty and takes a condition that is found by typing', async () => {
    const { condition } = build({ condition: { all: [] } });
    await typeCondition('school', /with the tag school$/);
    expect(condition()).toEqual({ all: [SCHOOL] });
    expect(screen.getByRole('combobox', { name: 'Which tag' })).toHaveProperty('value', 'lab_2');
  });

  it('says so when nothing is called what was typed', async () => {
    build({ condition: { all: [] } });
    await userEvent.type(screen.getByRole('combobox', { name: 'Add a condition' }), 'zzzz');
    expect(await screen.findByText('Nothing here is called that.')).toBeDefined();
  });

  it('is built with the keyboard alone', async () => {
    const { condition } = build({ condition: { all: [] } });
    await userEvent.type(screen.getByRole('combobox', { name: 'Add a condition' }), 'with the tag member');
    await userEvent.keyboard('{ArrowDown}{Enter}');
    expect(condition()).toMatchObject({ all: [{ ask: 'tag' }] });
  });

  it('takes by Enter what stands first now, wherever the highlight stood before', async () => {
    const { condition } = build({ condition: { all: [] } });
    const box = screen.getByRole('combobox', { name: 'Add a condition' });
    await userEvent.type(box, 'tag');
    await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}');
    await userEvent.type(box, ' school');
    await screen.findAllByRole('option', { name: /school/ });
    await userEvent.keyboard('{Enter}');
    expect(condition()).toEqual({ all: [SCHOOL] });
  });

  it('that is one condition is shown and kept as a group of it', async () => {
    const { condition } = build({ condition: MEMBER });
    await userEvent.selectOptions(
      screen.getByRole('combobox', { name: 'How the conditions are joined' }),
      'none of these',
    );
    expect(condition()).toEqual({ none: [MEMBER] });
  });

  it.each([
    ['all of these', 'and'],
    ['any of these', 'or'],
    ['none of these', 'nor'],
  ])('joined by %s reads with “%s”', async (join, word) => {
    build({ condition: { all: [MEMBER, SCHOOL] } });
    await userEvent.selectOptions(
      screen.getByRole('combobox', { name: 'How the conditions are joined' }),
      join,
    );
    expect(screen.getByText(word)).toBeDefined();
  });

  it('loses the line that is taken out, and only that', async () => {
    const { condition } = build({ condition: { any: [MEMBER, SCHOOL, REGULAR] } });
    await userEvent.click(screen.getAllByRole('button', { name: 'Take this condition out' })[1]!);
    expect(condition()).toEqual({ any: [MEMBER, REGULAR] });
  });

  it('changes one line in place', async () => {
    const { condition } = build({ condition: { all: [MEMBER, SCHOOL] } });
    await userEvent.selectOptions(
      screen.getAllByRole('combobox', { name: 'Whether' })[1]!,
      'without the tag',
    );
    expect(condition()).toEqual({ all: [MEMBER, { ...SCHOOL, has: false }] });
  });
});

describe('a group in a cut', () => {
  it('is added the other way of joining, filled, and taken out', async () => {
    const { condition } = build({ condition: { all: [MEMBER] } });
    await userEvent.click(screen.getByRole('button', { name: 'add a group' }));
    expect(condition()).toEqual({ all: [MEMBER, { any: [] }] });
    const group = screen.getByRole('group', { name: 'Group' });
    await userEvent.type(within(group).getByRole('combobox', { name: 'Add a condition' }), 'school');
    await userEvent.click(await screen.findByRole('option', { name: /with the tag school$/ }));
    expect(condition()).toEqual({ all: [MEMBER, { any: [SCHOOL] }] });
    await userEvent.click(screen.getByRole('button', { name: 'Take this group out' }));
    expect(condition()).toEqual({ all: [MEMBER] });
  });

  it('changes inside without touching what stands around it', async () => {
    const { condition } = build({ condition: { none: [{ all: [MEMBER, { any: [SCHOOL] }] }, REGULAR] } });
    const inner = screen.getAllByRole('group', { name: 'Group' })[1]!;
    await userEvent.click(within(inner).getByRole('button', { name: 'Take this condition out' }));
    expect(condition()).toEqual({ none: [{ all: [MEMBER, { any: [] }] }, REGULAR] });
  });
});

describe('counts and problems', () => {
  it('stand at the end of each line, and the line that empties the cut says so', () => {
    build({ condition: { all: [MEMBER, { any: [SCHOOL] }, REGULAR] }, counts: [14_741, 12, 0] });
    expect(screen.getByText('14,741 left')).toBeDefined();
    expect(screen.getByText('12 left')).toBeDefined();
    expect(screen.getByText('nobody left').className).toContain('text-bad');
  });

  it('are not shown while they are counted', () => {
    build({ condition: { all: [MEMBER] } });
    expect(screen.queryByText(/left$/)).toBeNull();
  });

  it('stand at the condition or group they are about', () => {
    build({
      condition: { all: [MEMBER, { any: [] }] },
      problems: [
        { path: 'all.0', message: 'This tag is gone.' },
        { path: 'all.1', message: 'This group is empty.' },
      ],
    });
    const [line, group] = screen.getAllByRole('alert');
    expect(line!.textContent).toBe('This tag is gone.');
    expect(screen.getByRole('group', { name: 'Group' }).contains(group!)).toBe(true);
    expect(screen.getByRole('group', { name: 'Group' }).contains(line!)).toBe(false);
  });
});
