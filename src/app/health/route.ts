import { linkIsUp, sendingIsHeld, workerIsUp } from '@/services/health';

export const dynamic = 'force-dynamic';

/**
 * 200 when this process answers and reaches the database; with `?of=worker` when a worker is alive too, with `?of=link` when
 * the link to the installation's carrier is up. `held`: nothing is sent until somebody says go.
 */
export async function GET(request: Request): Promise<Response> {
  const of = new URL(request.url).searchParams.get('of');
  try {
    const state = { worker: await workerIsUp(), link: await linkIsUp(), held: await sendingIsHeld() };
    const missing = (of === 'worker' || of === 'link') && !state[of];
    return Response.json({ ok: true, ...state }, { status: missing ? 503 : 200 });
  } catch {
    return Response.json({ ok: false }, { status: 503 });
  }
}
