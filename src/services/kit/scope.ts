export type { Scope } from '@/db/kit/scope';
