import { ok } from '@/core/shared/result';
import { act, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { describeFile, keepFile, keptFiles, putFileAway } from './files';
import { DescribeFileInput, KeepFileInput, LARGEST_AS_BASE64 } from './inputs';
import { fileView } from './views';

export const MEDIA_API: readonly Endpoint[] = [
  get('/files', 'Files that go along with texts, the newest first', async ({ scope }) =>
    ok({ items: (await keptFiles(scope, 500)).map(fileView) }),
  ),
  {
    ...post(
      '/files',
      'Keep a file: pictures are made small, without what a camera wrote into them',
      KeepFileInput,
      201,
      async ({ ctx, scope, input, actor }) => {
        const { name, content, alt } = input;
        const file = { name, bytes: Buffer.from(content, 'base64'), ...(alt === undefined ? {} : { alt }) };
        return viewed(await keepFile(ctx, scope, file, actor), fileView);
      },
    ),
    largest: LARGEST_AS_BASE64,
  },
  post('/files/{id}', 'Say what a picture shows', DescribeFileInput, 200, async ({ scope, id, input }) =>
    viewed(await describeFile(scope, id, input.alt), fileView),
  ),
  act(
    '/files/{id}/put-away',
    'Offer a file no more; what was sent still shows it',
    async ({ ctx, scope, id, actor }) => viewed(await putFileAway(ctx, scope, id, actor), fileView),
  ),
];
