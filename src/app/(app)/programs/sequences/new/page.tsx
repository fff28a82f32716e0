import type { Metadata } from 'next';
import { readProgramChoices } from '@/services/programs/screen';
import { READY_MADE } from '@/services/sequences/ready-made';
import { Page } from '@/ui/kit/page';
import { NewSequence } from '@/ui/sequences/new-sequence';
import { readScreen } from '../../../../session';
import { newSequenceAction } from '../actions';

export const metadata: Metadata = { title: 'New sequence' };

export default async function NewSequencePage() {
  const { data: programs } = await readScreen(readProgramChoices);
  return (
    <Page
      title="New sequence"
      margin={
        <p className="text-soft">
          It begins as a draft. Nothing is sent before you publish it; until then you can rehearse it for
          anybody, and every word can be changed.
        </p>
      }
    >
      <NewSequence
        programs={programs.map(({ id, name }) => ({ id, name }))}
        ready={READY_MADE.map(({ id, name, means }) => ({ id, name, means }))}
        act={newSequenceAction}
      />
    </Page>
  );
}
