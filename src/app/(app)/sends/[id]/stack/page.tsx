import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { getContext } from '@/services/runtime';
import { openDesk, stackOf } from '@/services/stacks/press';
import { Empty, Page } from '@/ui/kit/page';
import { StackDesk } from '@/ui/stacks/stack-desk';
import { readScreen } from '../../../../session';

export const metadata: Metadata = { title: 'Your stack' };

export default async function StackPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data: desk } = await readScreen(async (scope, { accountId }) => {
    const stack = await stackOf(scope, id, accountId);
    return stack && openDesk(await getContext(), scope, stack.id);
  });
  return (
    <Page
      title={desk ? desk.broadcast.name : 'Your stack'}
      actions={
        <Link href={`/sends/${id}/stacks`} className="button">
          All stacks
        </Link>
      }
    >
      {desk ? (
        <StackDesk first={desk} path="/internal/stack" more={{ send: id }} guest={false} />
      ) : (
        <Empty>You have no stack in this broadcast. Whoever splits it can give you one.</Empty>
      )}
    </Page>
  );
}
