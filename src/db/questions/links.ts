import type { Crossing } from '@/db/kit/scope';

/** A personal link by its code, which says of which workspace it is. */
export const linkByCode = async (
  crossing: Crossing,
  code: string,
  lock: '' | 'for update' = '',
): Promise<{ id: string; workspace_id: string } | null> =>
  (
    await crossing.rows<{ id: string; workspace_id: string }>(
      `select id, workspace_id from personal_link where code = :code ${lock}`,
      { code },
    )
  )[0] ?? null;

/** The first time it was opened or begun; who begins has opened it. */
export const noteLinkOpened = (
  crossing: Crossing,
  code: string,
  what: 'opened' | 'begun',
  at: Date,
): Promise<number> =>
  crossing.run(
    `update personal_link set opened_at = coalesce(opened_at, :at), begun_at = case when :begun then coalesce(begun_at, :at) else begun_at end
      where code = :code and expires_at > :at`,
    { code, at, begun: what === 'begun' },
  );
