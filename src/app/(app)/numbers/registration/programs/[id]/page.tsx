import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { mustsOf } from '@/core/registration/check';
import { readProgramFile } from '@/services/registration/screen';
import { ProgramDesk } from '@/ui/registration/program-desk';
import { StandingSection } from '@/ui/registration/standing';
import { readScreen } from '../../../../../session';
import { handInAction, keepProgramFileAction, takeBackAction } from '../../actions';

export const metadata: Metadata = { title: 'Registration of a program' };

/** What a reviewer is told of a program. */
export default async function ProgramFilePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen((scope, _, now) => readProgramFile(scope, id, now));
  if (!data) notFound();
  const { line, account, steps, file, written, stamp } = data;
  const acts = may(session.role, 'edit-programs');
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href="/numbers/registration">
        Registration
      </Link>
      <h1 className="mb-4">{file.name}</h1>
      <ProgramDesk {...{ id, file, written, stamp }} save={acts ? keepProgramFileAction : null}>
        <StandingSection
          {...{
            about: 'program',
            subject: id,
            row: line.row,
            forecast: line.forecast,
            broken: line.broken,
            steps,
          }}
          blocked={mustsOf(line.found).length > 0}
          registrar={account?.name ?? null}
          zone={session.workspaceZone}
          acts={acts ? { handIn: handInAction, takeBack: takeBackAction } : null}
        />
      </ProgramDesk>
    </main>
  );
}
