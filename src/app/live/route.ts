import { subscribe } from '@/services/kit/live';
import { currentSession } from '../session';

export const dynamic = 'force-dynamic';

/** Server-sent events: one nudge whenever something of the workspace changed. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session) return new Response(null, { status: 401 });
  const encoder = new TextEncoder();
  const stream = new ReadableStream({
    async start(controller) {
      const write = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          // The reader went away between two events.
        }
      };
      write(': here\n\n');
      const unsubscribe = await subscribe(session.workspaceId, () => write('event: change\ndata: {}\n\n'));
      const beat = setInterval(() => write(': still here\n\n'), 20_000);
      request.signal.addEventListener('abort', () => {
        unsubscribe();
        clearInterval(beat);
        try {
          controller.close();
        } catch {
          // Closed already.
        }
      });
    },
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
  });
}
