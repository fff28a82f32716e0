import type { Readable } from 'node:stream';
import { onceLoaded } from '@/core/shared/once';
import type { MediaStore } from './store';

export interface ObjectStoreSettings {
  endpoint: string;
  region: string;
  bucket: string;
  accessKeyId: string;
  secretAccessKey: string;
}

/** An object store that speaks the S3 protocol, addressed by path as most of them are. */
export function objectStore({
  endpoint,
  region,
  bucket,
  accessKeyId,
  secretAccessKey,
}: ObjectStoreSettings): MediaStore {
  const opened = onceLoaded(async () => {
    const s3 = await import('@aws-sdk/client-s3');
    const client = new s3.S3Client({
      ...{ endpoint, region, forcePathStyle: true, credentials: { accessKeyId, secretAccessKey } },
      // Older stores do not know the checksums that the client would add.
      ...{ requestChecksumCalculation: 'WHEN_REQUIRED', responseChecksumValidation: 'WHEN_REQUIRED' },
    });
    return { s3, client };
  });
  return {
    async put(key, bytes, type) {
      const { s3, client } = await opened();
      await client.send(
        new s3.PutObjectCommand({ Bucket: bucket, Key: key, Body: bytes, ContentType: type }),
      );
    },
    async open(key) {
      const { s3, client } = await opened();
      try {
        const { Body } = await client.send(new s3.GetObjectCommand({ Bucket: bucket, Key: key }));
        return (Body as Readable | undefined) ?? null;
      } catch (error) {
        if (error instanceof s3.NoSuchKey) return null;
        throw error;
      }
    },
    async remove(keys) {
      if (keys.length === 0) return;
      const { s3, client } = await opened();
      const Objects = keys.map((Key) => ({ Key }));
      // What it could not forget stands in an answer of 200.
      const { Errors = [] } = await client.send(
        new s3.DeleteObjectsCommand({ Bucket: bucket, Delete: { Objects, Quiet: true } }),
      );
      const left = Errors.find(({ Code }) => Code !== 'NoSuchKey');
      if (left)
        throw new Error(`The object store keeps ${left.Key}: ${left.Code} ${left.Message ?? ''}`.trim());
    },
  };
}
