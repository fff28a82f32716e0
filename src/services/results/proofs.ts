import { createHash } from 'node:crypto';
import { parseEmail } from '@/core/people/address';
import { parseNumber } from '@/core/phone/number';
import { canonical, proofOf, PROOF_FORMAT, type ProofDocument } from '@/core/results/proof';
import { parseJson } from '@/core/shared/json';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { addressesOf } from '@/db/people/addresses';
import { Person } from '@/db/people/entities';
import { ownerOf, receivedFrom, sentTo, toldBy } from '@/db/results/proof';
import { Proof } from '@/db/results/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

/** A proof as it is given away: the document, and the hash over all of it. */
export type SignedProof = ProofDocument & { hash: string };

const hashOf = (document: unknown): string => createHash('sha256').update(canonical(document)).digest('hex');

/** Proves everything about an address, as it is now. */
export async function makeProof(
  ctx: Context,
  scope: Scope,
  given: string,
  actor: Actor,
): Promise<Result<Proof, Refusal>> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const address = readAddress(given, workspace.country);
  if (address === null)
    return invalid(
      'address',
      'address: is neither a number nor an e-mail address. Write it as they have it.',
    );
  const personId = await ownerOf(scope, address);
  if (personId === null)
    return invalid('address', 'address: nothing ever went to it from here, and nobody here has or had it.');
  const document = proofOf({
    ...{ business: workspace.business, address, madeAt: new Date(ctx.now()).toISOString() },
    messages: (await sentTo(scope, personId, address)).map(({ at, body, ...row }) => ({
      ...row,
      ...{ at: at.toISOString(), words: body },
    })),
    received: (await receivedFrom(scope, personId, address)).map(({ at, body, meaning, ...row }) => ({
      ...row,
      ...{ at: at.toISOString(), words: body, read_as: meaning },
    })),
    consent: (await toldBy(scope, personId, address)).map(({ at, ...row }) => ({
      ...row,
      at: at.toISOString(),
    })),
  });
  const hash = hashOf(document);
  // Pressed twice at one instant it says the same, and is the same.
  const same = await scope.em.findOne(Proof, { hash });
  if (same) return ok(same);
  const proof = scope.em.create(Proof, {
    ...{ id: ctx.id('prf'), workspaceId: scope.workspaceId, personId, document, hash },
    ...{ madeBy: actor.accountId, madeAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(proof);
  await writeAudit(ctx, scope, actor.name, 'proof.made', personId, { proof: proof.id });
  return ok(proof);
}

function readAddress(given: string, country: string): string | null {
  const number = parseNumber(given, country);
  if (number.ok) return number.value;
  const email = parseEmail(given);
  return email.ok ? email.value : null;
}

const findProof = (scope: Scope, id: string): Promise<Proof | null> => scope.em.findOne(Proof, { id });

const proofsOf = (scope: Scope, personId: string): Promise<Proof[]> =>
  scope.em.find(Proof, { personId }, { orderBy: { madeAt: 'desc' }, limit: 20 });

export const signed = ({ document, hash }: Proof): SignedProof | null => document && { ...document, hash };

export type ProofCheck =
  /** Made here, and not a letter was changed since. */
  | { is: 'ours'; made_at: string; id: string }
  /** Its hash is not that of what stands in it: something was changed. */
  | { is: 'changed' }
  /** Its hash is right, and nobody here made it. */
  | { is: 'unknown' };

/** Whether a document is a proof that was made here, unchanged. */
export async function checkProof(scope: Scope, text: string): Promise<Result<ProofCheck, Refusal>> {
  const read = parseJson(text);
  const parsed = read.ok ? (read.value as Record<string, unknown> | null) : null;
  if (
    typeof parsed !== 'object' ||
    parsed === null ||
    parsed.format !== PROOF_FORMAT ||
    typeof parsed.hash !== 'string'
  )
    return invalid('document', 'document: is no proof. Give the JSON as it was downloaded, whole.');
  const { hash, ...document } = parsed;
  if (hashOf(document) !== hash) return ok({ is: 'changed' });
  const proof = await scope.em.findOne(Proof, { hash });
  return ok(proof ? { is: 'ours', made_at: proof.madeAt.toISOString(), id: proof.id } : { is: 'unknown' });
}

/** What anybody may know of a proof by its id: that it was made, when, by which business, and its hash. */
export async function publicProof(
  ctx: Context,
  id: string,
): Promise<{ hash: string; madeAt: Date; business: string } | null> {
  const [row] = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ hash: string; made_at: Date; business: string }>(
      `select p.hash, p.made_at, w.business from proof p join workspace w on w.id = p.workspace_id where p.id = :id`,
      { id },
    ),
  );
  return row ? { hash: row.hash, madeAt: row.made_at, business: row.business } : null;
}

/** A proof that is there to be shown; erased people have none. */
export async function shownProof(scope: Scope, id: string): Promise<Result<SignedProof, Refusal>> {
  const proof = await findProof(scope, id);
  const document = proof && signed(proof);
  return document ? ok(document) : notFound('proof');
}

/** What the page of somebody's proofs shows; null: there is no such person. */
export async function readProofs(
  scope: Scope,
  personId: string,
): Promise<{ addresses: string[]; proofs: Proof[] } | null> {
  const person = await scope.em.findOne(Person, { id: personId, erasedAt: null });
  if (!person) return null;
  const addresses = await addressesOf(scope, [personId]);
  return {
    addresses: addresses.filter(({ kind }) => kind !== 'chat').map(({ value }) => value),
    proofs: await proofsOf(scope, personId),
  };
}
