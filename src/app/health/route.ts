import { workerIsUp } from '@/services/health';

export const dynamic = 'force-dynamic';

/** 200 when this process answers and reaches the database; with `?of=worker` when a worker is alive too. */
export async function GET(request: Request): Promise<Response> {
  const ofWorker = new URL(request.url).searchParams.get('of') === 'worker';
  try {
    const worker = await workerIsUp();
    return Response.json({ ok: true, worker }, { status: ofWorker && !worker ? 503 : 200 });
  } catch {
    return Response.json({ ok: false }, { status: 503 });
  }
}
