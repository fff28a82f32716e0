import { subscribe } from '@/services/kit/live';
import { AS_IT_COMES } from '../as-it-comes';
import { currentSession } from '../session';

export const dynamic = 'force-dynamic';

/** Server-sent events: where the changes of the workspace stand, at first and whenever something changed. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session) return new Response(null, { status: 401 });
  const encoder = new TextEncoder();
  let nudge: (mark: string) => void = () => {};
  // Before the answer begins: a page compares where it stands once it is open, and what changes after that must be told.
  const { mark, leave: unsubscribe } = await subscribe(session.workspaceId, (now) => nudge(now));
  const stream = new ReadableStream({
    start(controller) {
      const write = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          // The reader went away between two events.
        }
      };
      nudge = (now) => write(`event: change\ndata: ${now}\n\n`);
      nudge(mark);
      const beat = setInterval(() => write(': still here\n\n'), 20_000);
      const leave = () => {
        unsubscribe();
        clearInterval(beat);
        try {
          controller.close();
        } catch {
          // Closed already.
        }
      };
      if (request.signal.aborted) leave();
      else request.signal.addEventListener('abort', leave);
    },
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', ...AS_IT_COMES },
  });
}
