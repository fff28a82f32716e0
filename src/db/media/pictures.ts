import type { Crossing } from '@/db/kit/scope';

export const pictureBytes = async (
  crossing: Crossing,
  id: string,
): Promise<{ type: string; bytes: Buffer } | null> =>
  (
    await crossing.rows<{ type: string; bytes: Buffer }>(`select type, bytes from picture where id = :id`, {
      id,
    })
  )[0] ?? null;
