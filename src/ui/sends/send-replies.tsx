import { Link } from '@/ui/kit/link';
import { ListTable } from '@/ui/kit/list-table';
import { Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { PersonLink } from '@/ui/people/people-list';

interface Reply {
  id: string;
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  body: string;
  at: Date;
}

/** What people write back, as it comes. */
export function SendReplies({ id, replies, zone }: { id: string; replies: readonly Reply[]; zone: string }) {
  if (replies.length === 0) return null;
  return (
    <div className="mt-8">
      <Section
        title="Replies"
        note={
          <Link className="link" href={`/sends/${id}/people?what=replies`}>
            all of them
          </Link>
        }
      >
        <ListTable
          label="Replies"
          rows={replies}
          rowKey={(reply) => reply.id}
          columns={[
            { title: 'When', kind: 'when', cell: ({ at }) => dayAndTime(at, zone) },
            { title: 'Who', cell: (reply) => <PersonLink id={reply.person_id} person={reply} /> },
            { title: 'What', cell: ({ body }) => <span className="[overflow-wrap:anywhere]">{body}</span> },
          ]}
          empty="Nobody wrote back yet."
        />
      </Section>
    </div>
  );
}
