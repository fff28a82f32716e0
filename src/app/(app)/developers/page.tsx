import type { Metadata } from 'next';
import { readKeys } from '@/services/access/screen';
import { KeyForm, RevokeKey } from '@/ui/access/key-forms';
import { Mark } from '@/ui/kit/mark';
import { Empty, Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../session';
import { createKeyAction, revokeKeyAction } from './actions';

export const metadata: Metadata = { title: 'Developers' };

export default async function DevelopersPage() {
  const { data: keys, session } = await readScreen((scope) => readKeys(scope));
  const zone = session.workspaceZone;
  return (
    <Page
      title="Developers"
      margin={
        <Section title="The API">
          <p className="text-soft">
            Everything the screens do can be done over HTTP. The description, in OpenAPI 3.1:{' '}
            <a href="/api/v1/openapi.json">/api/v1/openapi.json</a>. Send the key as “Authorization: Bearer
            …”.
          </p>
          <p className="mt-2 text-soft">Webhooks will be set up here.</p>
        </Section>
      }
    >
      <Section title="API keys">
        {keys.length === 0 && <Empty>No key yet.</Empty>}
        {keys.length > 0 && (
          <table className="mb-4 w-full">
            <thead>
              <tr>
                <th>Name</th>
                <th>Ends in</th>
                <th>Made</th>
                <th>Last used</th>
                <th>State</th>
                <th>
                  <span className="sr-only">Revoke</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {keys.map((key) => (
                <tr key={key.id}>
                  <td>{key.name}</td>
                  <td>…{key.hint}</td>
                  <td className="text-soft">{dayAndTime(key.createdAt, zone)}</td>
                  <td className="text-soft">{key.lastUsedAt ? dayAndTime(key.lastUsedAt, zone) : 'never'}</td>
                  <td>{key.revokedAt ? <Mark tone="bad">revoked</Mark> : <Mark tone="good">works</Mark>}</td>
                  <td>{!key.revokedAt && <RevokeKey action={revokeKeyAction} keyId={key.id} />}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <div className="max-w-sm">
          <KeyForm action={createKeyAction} />
        </div>
      </Section>
    </Page>
  );
}
