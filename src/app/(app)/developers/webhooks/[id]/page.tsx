import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readEndpoint, type DeliveryRow } from '@/services/webhooks/screen';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { WebhookForm } from '@/ui/webhooks/webhook-form';
import { DeliveryMark, EndpointMark } from '@/ui/webhooks/webhook-marks';
import { Secret } from '@/ui/webhooks/secret';
import { readScreen } from '../../../../session';
import { changeWebhookAction, webhookVerbAction } from '../actions';

export const metadata: Metadata = { title: 'Webhook' };

export default async function WebhookPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ before?: string }>;
}) {
  const { id } = await params;
  const { before = '' } = await searchParams;
  const { data, session } = await readScreen((scope) => readEndpoint(scope, id, before));
  if (!data) notFound();
  const { endpoint } = data;
  const zone = session.workspaceZone;
  const manages = may(session.role, 'manage-keys');
  const verb = (name: string, submit: string) => (
    <PlainForm action={webhookVerbAction} submit={submit} hidden={{ id, verb: name }} />
  );
  return (
    <Page
      title={endpoint.note || 'Webhook'}
      actions={
        <Link href="/developers" className="button">
          Developers
        </Link>
      }
      margin={
        <>
          <Section title="This address">
            <Facts
              rows={[
                ['State', <EndpointMark key="state" state={endpoint.state} />],
                ['Goes to', endpoint.url],
                ['Since', dayAndTime(endpoint.createdAt, zone)],
              ]}
            />
            {manages && (
              <div className="mt-3 flex flex-wrap gap-2">
                {verb('test', 'Send a test')}
                {endpoint.state === 'on' ? verb('off', 'Turn off') : verb('on', 'Turn on')}
                {verb('remove', 'Remove with its log')}
              </div>
            )}
          </Section>
          {manages && (
            <Section title="Signing secret">
              <Secret value={endpoint.secret} />
              <p className="my-2 text-sm text-soft">
                Each delivery is signed as Standard Webhooks says: verify “webhook-signature” with it.
                {endpoint.oldUntil &&
                  ` The one before signs too, until ${dayAndTime(endpoint.oldUntil, zone)}.`}
              </p>
              {verb('secret', 'Change the secret')}
            </Section>
          )}
        </>
      }
    >
      <Section title="Deliveries">
        <ListTable
          label="Deliveries"
          rows={data.deliveries}
          columns={deliveryColumns(zone, manages, id)}
          rowKey={({ delivery }) => delivery.id}
          empty="Nothing was sent yet. Send a test to see whether it arrives."
          older={data.next && `/developers/webhooks/${id}?before=${data.next}`}
        />
      </Section>
      {manages && (
        <Section title="What it is told">
          <WebhookForm action={changeWebhookAction} submit="Keep" endpoint={endpoint} />
        </Section>
      )}
    </Page>
  );
}

const deliveryColumns = (zone: string, manages: boolean, id: string): ListColumn<DeliveryRow>[] => [
  { title: 'What', cell: ({ delivery }) => <code>{delivery.kind}</code> },
  { title: 'When', kind: 'when', cell: ({ delivery }) => dayAndTime(delivery.createdAt, zone) },
  {
    title: 'State',
    cell: ({ delivery }) => (
      <DeliveryMark
        arrived={delivery.arrivedAt !== null}
        aside={delivery.asideAt !== null}
        tries={delivery.tries}
      />
    ),
  },
  { title: 'Payload and answers', cell: (row) => <Told row={row} zone={zone} /> },
  {
    title: 'Send again',
    kind: 'act',
    quiet: true,
    cell: ({ delivery }) =>
      manages &&
      delivery.tries > 0 && (
        <PlainForm
          action={webhookVerbAction}
          submit="Send again"
          hidden={{ id, verb: 'again', delivery: delivery.id }}
        />
      ),
  },
];

const Told = ({ row: { delivery, tries }, zone }: { row: DeliveryRow; zone: string }) => (
  <details>
    <summary>
      {tries.length === 0
        ? 'payload'
        : `payload, ${tries.length} ${tries.length === 1 ? 'answer' : 'answers'}`}
    </summary>
    <pre className="max-w-[60ch] overflow-x-auto whitespace-pre-wrap py-2 text-sm [overflow-wrap:anywhere]">
      {delivery.body}
    </pre>
    <ul>
      {tries.map((one) => (
        <li key={one.id} className="border-t border-rule py-1 text-sm">
          {dayAndTime(one.at, zone)}: {one.status ?? 'not reached'} in {one.ms} ms
          {one.answer && <span className="block text-soft [overflow-wrap:anywhere]">{one.answer}</span>}
        </li>
      ))}
    </ul>
  </details>
);
