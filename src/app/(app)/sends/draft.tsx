'use client';
import { useRouter } from 'next/navigation';
import { DraftDesk } from '@/ui/sends/draft-desk';
import { type DraftProps } from '@/ui/sends/draft-values';

export function Draft(props: Omit<DraftProps, 'onDone'>) {
  const router = useRouter();
  return <DraftDesk {...props} onDone={(id) => router.push(`/sends/${id}`)} />;
}
