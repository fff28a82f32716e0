import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { readProgramChange } from '@/services/programs/screen';
import { readToldOfProgram } from '@/services/registration/screen';
import { ChangeDesk } from '@/ui/programs/change-desk';
import { MergeForm } from '@/ui/programs/merge-form';
import { readScreen } from '../../../../session';
import { changeProgramAction, mergeProgramAction } from '../../actions';

export const metadata: Metadata = { title: 'Change a program' };

export default async function ChangeProgramPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data: read } = await readScreen(async (scope, _, now) => ({
    data: await readProgramChange(scope, id),
    told: await readToldOfProgram(scope, id, now),
  }));
  const { data, told } = read;
  if (!data) notFound();
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href={`/programs/${id}`}>
        {data.program.name}
      </Link>
      <h1 className="mb-4">What people agree to</h1>
      <ChangeDesk {...data} told={told} save={changeProgramAction} />
      <div className="mt-8 max-w-xl">
        <MergeForm
          program={data.program}
          keywords={data.keywords}
          choices={data.mergeChoices}
          merge={mergeProgramAction}
        />
      </div>
    </main>
  );
}
