import type { Metadata } from 'next';
import { Page, Section } from '@/ui/kit/page';
import { ProgramForm } from '@/ui/programs/program-forms';
import { requireSession } from '../../../session';
import { createProgramAction } from '../actions';

export const metadata: Metadata = { title: 'Make a program' };

export default async function NewProgramPage() {
  await requireSession();
  return (
    <Page
      title="Make a program"
      margin={
        <Section title="What follows">
          <p className="text-soft">
            The keyword works as soon as you save. Whoever texts it gets a confirmation with the business, the
            program, how often, HELP and STOP: that wording is added for you.
          </p>
        </Section>
      }
    >
      <div className="max-w-lg">
        <ProgramForm action={createProgramAction} />
      </div>
    </Page>
  );
}
