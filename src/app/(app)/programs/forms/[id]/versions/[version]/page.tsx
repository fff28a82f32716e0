import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { readFormVersion } from '@/services/forms/screen';
import { FormPreview } from '@/ui/forms/form-preview';
import { Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../../../session';

export const metadata: Metadata = { title: 'Version of a form' };

/** A form as somebody saw it who agreed by it. */
export default async function VersionPage({ params }: { params: Promise<{ id: string; version: string }> }) {
  const { id, version } = await params;
  const { data, session } = await readScreen((scope) => readFormVersion(scope, id, Number(version) || 0));
  if (!data) notFound();
  const { form, shown, workspace, own } = data;
  return (
    <Page
      title={`${form.name}, version ${shown.version}`}
      margin={
        <Section title="Agreed to">
          <p>{shown.wording}</p>
        </Section>
      }
    >
      <p className="mb-4 text-soft">
        Shown from {dayAndTime(shown.publishedAt, session.workspaceZone)}.{' '}
        <Link href={`/programs/forms/${id}`}>The form as it is now</Link>
      </p>
      <FormPreview
        document={shown.document}
        own={own}
        business={workspace.business}
        wording={shown.wording}
        termsUrl={workspace.termsUrl}
        privacyUrl={workspace.privacyUrl}
      />
    </Page>
  );
}
