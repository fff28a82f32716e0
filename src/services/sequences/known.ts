import type { KnownThings } from '@/core/sequence/check';
import { Workspace } from '@/db/access/entities';
import { Field } from '@/db/audience/entities';
import { Program } from '@/db/programs/entities';
import { namesOfThings } from '@/db/audience/things';
import { Membership } from '@/db/access/entities';
import { Sequence, SequenceVersion } from '@/db/sequences/entities';
import type { Scope } from '@/db/kit/scope';
import { clearanceProgram } from '@/services/clearance/clearance-facts';

/** What a document can refer to here, and the other sequences that run. */
export async function knownThings(
  scope: Scope,
  programId: string,
  self: string | null,
): Promise<KnownThings> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOne(Program, { id: programId });
  const things = await namesOfThings(scope);
  const fields = await scope.em.find(Field, { archivedAt: null });
  const members = await scope.em.find(Membership, {});
  const others = await scope.em.find(Sequence, { version: { $ne: null }, state: { $ne: 'stopped' } });
  const versions = await scope.em.find(SequenceVersion, { sequenceId: others.map(({ id }) => id) });
  const all = await scope.em.find(Sequence, {});
  const { purpose, promise, archived } = program
    ? clearanceProgram(program)
    : { purpose: 'utility' as const, promise: null, archived: false };
  return {
    program: program && { purpose, promise, archived },
    business: workspace.business,
    ids: new Set([...things.map(({ id }) => id), ...all.map(({ id }) => id)]),
    fields: new Set(fields.map(({ key }) => `own.${key}`)),
    roles: new Set(members.map(({ role }) => role)),
    others: others
      .filter(({ id }) => id !== self)
      .flatMap(({ id, name, version }) => {
        const document = versions.find((one) => one.sequenceId === id && one.version === version)?.document;
        return document ? [{ id, name, begins: document.begins, lines: document.lines }] : [];
      }),
  };
}
