import { group } from 'd3-array';
import { currentAddress, KIND_OF } from '@/core/people/address';
import type { Channel } from '@/core/message/channel';
import type { ConsentState } from '@/core/consent/ledger';
import type { Scope } from '@/db/kit/scope';

interface SeveralRow {
  program_id: string;
  person_id: string;
  channel: Channel;
  address: string;
  state: ConsentState;
  since: Date;
  current: boolean;
  rank: number | null;
}

/**
 * Decides anew which address speaks for these people, where several told a program something. To be called after
 * whatever changes consent or the order of addresses; most people have one address, for whom there is nothing to decide.
 */
export async function settleCurrent(scope: Scope, people: readonly string[]): Promise<void> {
  if (people.length === 0) return;
  const rows = await scope.rows<SeveralRow>(
    `select c.person_id, c.program_id, c.channel, c.address, c.state, c.since, c.current, a.rank
       from (select person_id, program_id, channel from consent_state where workspace_id = :workspace and person_id = any(:people::text[])
              group by 1, 2, 3 having count(*) > 1) several
       join consent_state c using (person_id, program_id, channel)
       left join address a on a.workspace_id = c.workspace_id and a.person_id = c.person_id and a.value = c.address
                          and a.kind = case ${KIND_BY_CHANNEL} end
      where c.workspace_id = :workspace`,
    { people },
  );
  const groups = group(rows, (row) => `${row.person_id} ${row.program_id} ${row.channel}`);
  const wrong = [...groups.values()].flatMap((several) => {
    const chosen = currentAddress(several.map((row) => ({ ...row, since: row.since.getTime() })))?.address;
    return several.filter((row) => row.current !== (row.address === chosen));
  });
  if (wrong.length === 0) return;
  await scope.run(
    `update consent_state c set current = not c.current
       from unnest(:people::text[], :programs::text[], :channels::text[], :addresses::text[]) as u (person, program, channel, address)
      where c.workspace_id = :workspace and c.person_id = u.person and c.program_id = u.program and c.channel = u.channel and c.address = u.address`,
    {
      people: wrong.map((row) => row.person_id),
      programs: wrong.map((row) => row.program_id),
      channels: wrong.map(({ channel }) => channel),
      addresses: wrong.map(({ address }) => address),
    },
  );
}

const KIND_BY_CHANNEL = `c.channel ${Object.entries(KIND_OF)
  .map(([channel, kind]) => `when '${channel}' then '${kind}'`)
  .join(' ')}`;
