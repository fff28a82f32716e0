'use server';
import { revalidatePath } from 'next/cache';
import { leaveByToken, stayByToken } from '@/services/email/leave';
import { getContext } from '@/services/runtime';
import { field } from '../../(app)/form-result';

export async function leaveAction(data: FormData): Promise<void> {
  const token = field(data, 'token');
  await leaveByToken(await getContext(), token, 'page', field(data, 'all') === '1');
  revalidatePath('/u/[token]', 'page');
}

export async function stayAction(data: FormData): Promise<void> {
  await stayByToken(await getContext(), field(data, 'token'));
  revalidatePath('/u/[token]', 'page');
}
