import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { newForm } from '@/core/form/document';
import { router } from '@/ui/testing/router';
import { FormDesk, type FormDraft } from './form-desk';

const FINE = { problems: [] };

function desk(more: Partial<Parameters<typeof FormDesk>[0]> = {}) {
  const save = vi.fn<(id: string, stamp: number, draft: FormDraft, press: string) => Promise<typeof FINE>>(
    async () => FINE,
  );
  const publish = vi.fn(async () => FINE);
  render(
    <FormDesk
      form={{
        ...{ id: 'frm_1', stamp: 3, version: 1, name: 'Gate', document: newForm('Sign up') },
        ...{ welcome: '', offer: null, labels: [], sequences: [], source: null },
      }}
      published
      agreement={{ business: 'Observatory', program: 'Alerts', promise: { count: 6, period: 'month' } }}
      program={{ name: 'Alerts', welcome: '' }}
      links={{ termsUrl: null, privacyUrl: null }}
      choices={{
        labels: [],
        sequences: [],
        offers: [],
        pictures: [],
        own: [],
        sources: [{ id: 'src_1', name: 'Website' }],
      }}
      mayEdit
      margin={null}
      {...{ save, publish }}
      {...more}
    >
      {null}
    </FormDesk>,
  );
  const preview = () => screen.getByTitle<HTMLIFrameElement>('The form as it will be seen').srcdoc;
  return { save, publish, preview };
}
const button = (name: string | RegExp) => screen.getByRole('button', { name });

describe('a form that is worked on', () => {
  it('is seen as it will be, by the code that makes it, before it is saved', async () => {
    const { preview, save } = desk();
    expect(preview()).toContain('I agree that Observatory sends Alerts');
    await userEvent.clear(screen.getByLabelText('Title'));
    await userEvent.type(screen.getByLabelText('Title'), 'Clear <nights>');
    expect(preview()).toContain('Clear &lt;nights&gt;');
    await userEvent.selectOptions(screen.getByLabelText('Ask also for'), 'email');
    expect(preview()).toContain('E-mail address');
    await userEvent.selectOptions(screen.getByLabelText(/^Language/), 'fr');
    expect(preview()).toContain('<html lang="fr">');
    expect(screen.getByText('not saved yet')).toBeDefined();
    await userEvent.click(button('Save the change'));
    await waitFor(() => expect(save).toHaveBeenCalledTimes(1));
    const [id, stamp, draft] = save.mock.calls[0]!;
    expect([id, stamp]).toEqual(['frm_1', 3]);
    expect(draft.document).toMatchObject({ title: 'Clear <nights>', language: 'fr' });
    expect(draft.document.fields.map(({ field }) => field)).toEqual(['name', 'number', 'email']);
    expect(router.refresh).toHaveBeenCalled();
  });

  it('is published only as it was saved, and keeps the number whatever else goes', async () => {
    const { publish } = desk({ published: false });
    expect(screen.queryByRole('button', { name: 'remove Mobile number' })).toBeNull();
    await userEvent.click(button('remove Name'));
    expect(button('Publish as version 2')).toHaveProperty('disabled', true);
    expect(publish).not.toHaveBeenCalled();
  });

  it('says that a newer version stands here, and publishes it once', async () => {
    const { publish } = desk({ published: false });
    expect(screen.getByText('! version 1 is shown; this is newer')).toBeDefined();
    await userEvent.click(button('Publish as version 2'));
    await waitFor(() => expect(publish).toHaveBeenCalledTimes(1));
  });

  it('shows what is wrong beside what it is about', async () => {
    const save = vi.fn(async () => ({
      problems: [{ field: 'name', message: 'name: another form has this name.' }],
    }));
    desk({ save });
    await userEvent.type(screen.getByLabelText('Name, for you alone'), '!');
    await userEvent.click(button('Save the change'));
    expect(await screen.findByText(/nother form has this name/)).toBeDefined();
  });

  it('brings to a source that is chosen', async () => {
    const { save } = desk();
    await userEvent.selectOptions(screen.getByLabelText('The source it brings to'), 'Website');
    await userEvent.click(button('Save the change'));
    expect(save.mock.calls[0]![2]).toMatchObject({ source: 'src_1' });
  });

  it('is only looked at by who may not edit', () => {
    desk({ mayEdit: false });
    expect(screen.getByLabelText('Title').closest('fieldset')).toHaveProperty('disabled', true);
  });
});
