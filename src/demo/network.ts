import { readFileSync } from 'node:fs';
import type { MikroORM } from '@mikro-orm/postgresql';
import { acrossWorkspaces } from '@/db/kit/scope';
import {
  benchDropper,
  benchNetwork,
  benchRegistrar,
  benchSwitchboard,
  publicUrl,
} from '@/services/kit/settings';

const BOOK = new URL('../demo/bench-chat.json', import.meta.url);
const REGISTRAR_BOOK = new URL('../demo/bench-registrar.json', import.meta.url);

/**
 * The story’s chat network is the bench’s: it is told what it knew there (what was approved, who wrote when), and the accounts
 * are asked about anew, so that it learns where to call back.
 */
export async function openNetwork(orm: MikroORM, bench: string | null): Promise<void> {
  const url = benchNetwork();
  if (bench === null || url === null) return;
  await fetch(`${bench}/chat/book`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: readFileSync(BOOK, 'utf8'),
  });
  await acrossWorkspaces(orm, (crossing) =>
    crossing.run(
      `update chat_account set url = :url, due_at = now() - interval '400 days' where removed_at is null`,
      { url },
    ),
  );
}

/** The story’s registrar is the bench’s too, and knows what was handed in there. */
export async function openRegistrar(orm: MikroORM, bench: string | null): Promise<void> {
  const url = benchRegistrar();
  if (bench === null || url === null) return;
  await fetch(`${bench}/registrar/book`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: readFileSync(REGISTRAR_BOOK, 'utf8'),
  });
  await acrossWorkspaces(orm, (crossing) =>
    crossing.run(
      `update registrar_account set url = :url, due_at = now() - interval '400 days' where removed_at is null`,
      { url },
    ),
  );
}

/** The bench’s portals send to the sources of the story that go by their names. */
export async function openPortals(orm: MikroORM, bench: string | null): Promise<void> {
  if (bench === null) return;
  const sources = await acrossWorkspaces(orm, (crossing) =>
    crossing.rows<{ name: string; key: string }>(`select name, key from source where closed_at is null`),
  );
  for (const { name, key } of sources)
    // One that the bench does not know is refused, which is no harm.
    await fetch(`${bench}/portals/${name.toLowerCase().replaceAll(' ', '-')}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: `${publicUrl()}/in/${key}` }),
    });
}

/** Voicemails of the story are left by the bench's account, which is brought the recordings anew; its telephones tell of calls. */
export async function openVoices(orm: MikroORM, bench: string | null): Promise<void> {
  const [dropper, board] = [benchDropper(), benchSwitchboard()];
  if (bench === null || dropper === null || board === null) return;
  const boards = await acrossWorkspaces(orm, async (crossing) => {
    await crossing.run(
      `update voicemail_account set url = :dropper, due_at = now() - interval '400 days' where removed_at is null`,
      { dropper },
    );
    await crossing.run(`update voice_recording set heard_as = null`);
    return crossing.rows<{ door_key: string; secret: string }>(
      `update switchboard set numbers_url = :numbers where removed_at is null returning door_key, secret`,
      { numbers: `${board}/numbers` },
    );
  });
  for (const { door_key: key, secret } of boards)
    await fetch(board, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: `${publicUrl()}/calls/${key}`, secret }),
    });
}
