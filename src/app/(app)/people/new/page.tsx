import type { Metadata } from 'next';
import { readProgramChoices } from '@/services/programs/screen';
import { Page, Section } from '@/ui/kit/page';
import { PersonForm } from '@/ui/people/person-form';
import { readScreen } from '../../../session';
import { addPersonAction } from '../actions';

export const metadata: Metadata = { title: 'Add a person' };

export default async function NewPersonPage() {
  const { data } = await readScreen((scope) => readProgramChoices(scope));
  return (
    <Page
      title="Add a person"
      margin={
        <Section title="What follows">
          <p className="text-soft">
            The number alone is enough. Without consent nothing can be sent to them: give the words they
            agreed to, or invite them to text a keyword.
          </p>
        </Section>
      }
    >
      <div className="max-w-lg">
        <PersonForm action={addPersonAction} programs={data} />
      </div>
    </Page>
  );
}
