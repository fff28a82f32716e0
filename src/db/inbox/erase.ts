import { OF_ERASED } from '@/db/kit/erasure';

/** What they wrote. */
export const INBOX_ERASURES = [
  `delete from leaving where ${OF_ERASED}`,
  `delete from notice where ${OF_ERASED}`,
  `delete from thread where ${OF_ERASED}`,
  `delete from thread_note where ${OF_ERASED}`,
  `delete from prepared_use where ${OF_ERASED}`,
  `update inbound_text set body = '', evidence = '', from_number = 'erased', fingerprint = null where ${OF_ERASED}`,
  `delete from unread_text where workspace_id = :workspace and from_number = any(:addresses::text[])`,
];
