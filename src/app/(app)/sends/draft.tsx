'use client';
import { useRouter } from 'next/navigation';
import type { MergeField } from '@/core/text/fields';
import type { KeptFile } from '@/core/media/kinds';
import { DraftDesk } from '@/ui/sends/draft-desk';
import {
  type AudienceChoices,
  type DraftOutcome,
  type DraftValues,
  type Sending,
  type TryActs,
  type When,
} from '@/ui/sends/draft-values';

interface Props {
  initial: DraftValues;
  before?: When;
  programs: { id: string; name: string }[];
  audience: AudienceChoices;
  fields: readonly MergeField[];
  own: { number: string | null; asked: string | null };
  tryActs: TryActs;
  kept: readonly KeptFile[];
  zone: string;
  place: string;
  save(values: DraftValues, send: Sending, press: string): Promise<DraftOutcome>;
}

export function Draft(props: Props) {
  const router = useRouter();
  return <DraftDesk {...props} onDone={(id) => router.push(`/sends/${id}`)} />;
}
