import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { EMPTY_PROGRAM, type ProgramFile } from '@/core/registration/file';
import { helpText, optOutText } from '@/core/text/wording';
import { WorkspaceForm } from './workspace-form';

const SAID = { business: 'Juniper Gap Observatory', contact: 'desk@juniper-gap.example.org' };
const named = { ...SAID, program: 'Clear Sky Alerts', frequency: 'Up to 6 msgs/month' };
const TOLD: ProgramFile = {
  ...EMPTY_PROGRAM,
  ...{ business: SAID.business, name: named.program, purpose: 'recurring', often: named.frequency },
  ...{ perMonth: 900, samples: [], ways: [], confirmation: '', question: '' },
  ...{ help: helpText(named), stop: optOutText(SAID.business) },
};

const open = (told: ProgramFile[]) =>
  render(
    <WorkspaceForm
      action={(state) => Promise.resolve(state)}
      workspace={{
        ...{ ...SAID, country: 'US', zone: 'America/Denver', weeklyCap: null, asksNearMisses: false },
        ...{ termsUrl: null, privacyUrl: null, linkBase: null, stamp: 0 },
      }}
      reach={[]}
      programs={1}
      told={told.map((one, i) => ({ id: `prg_${i}`, told: one }))}
    />,
  );
const type = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe('what a business says of itself', () => {
  it.each([
    ['Business, as people read it', 'Gap Stars'],
    ['Where a human answers', '+1 719 555 0112'],
  ])('says before it is saved which reviewers read another “%s”', (label, value) => {
    open([TOLD]);
    expect(screen.queryByText(/A reviewer read other words/)).toBeNull();
    type(label, value);
    expect(screen.getByText(/A reviewer read other words/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Clear Sky Alerts' }).getAttribute('href')).toBe(
      '/numbers/registration/programs/prg_0',
    );
  });

  it('says nothing of reviewers where they read it so, as when a name comes back', () => {
    open([{ ...TOLD, business: 'Gap Stars', help: helpText({ ...named, business: 'Gap Stars' }) }]);
    type('Business, as people read it', 'Gap Stars');
    expect(screen.getByText(/program reads so/)).toBeTruthy();
    expect(screen.queryByText(/A reviewer read other words/)).toBeNull();
  });
});
