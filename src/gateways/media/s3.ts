import type { Readable } from 'node:stream';
import {
  DeleteObjectsCommand,
  GetObjectCommand,
  NoSuchKey,
  PutObjectCommand,
  S3Client,
} from '@aws-sdk/client-s3';
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
  const client = new S3Client({
    ...{ endpoint, region, forcePathStyle: true, credentials: { accessKeyId, secretAccessKey } },
    // Older stores do not know the checksums that the client would add.
    ...{ requestChecksumCalculation: 'WHEN_REQUIRED', responseChecksumValidation: 'WHEN_REQUIRED' },
  });
  return {
    async put(key, bytes, type) {
      await client.send(new PutObjectCommand({ Bucket: bucket, Key: key, Body: bytes, ContentType: type }));
    },
    async open(key) {
      try {
        const { Body } = await client.send(new GetObjectCommand({ Bucket: bucket, Key: key }));
        return (Body as Readable | undefined) ?? null;
      } catch (error) {
        if (error instanceof NoSuchKey) return null;
        throw error;
      }
    },
    async remove(keys) {
      if (keys.length === 0) return;
      const Objects = keys.map((Key) => ({ Key }));
      await client.send(new DeleteObjectsCommand({ Bucket: bucket, Delete: { Objects, Quiet: true } }));
    },
  };
}
