import { serveApi } from '../serve';

export const dynamic = 'force-dynamic';
export const GET = serveApi;
export const POST = serveApi;
export const PUT = serveApi;
export const PATCH = serveApi;
export const DELETE = serveApi;
