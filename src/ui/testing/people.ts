import type { TableRow } from '@/ui/people/people-table';

/** Somebody for a table in a test, told apart by a number. */
export const person = (n: number, more: Partial<TableRow> = {}): TableRow => ({
  id: `per_${n}`,
  number: `+1303555${String(n).padStart(4, '0')}`,
  first_name: `Ada${n}`,
  last_name: 'Orr',
  email: null,
  email_state: 'in-service',
  further: null,
  place_region: 'CO',
  line_type: 'mobile',
  number_state: 'in-service',
  stopped_at: null,
  unclear_since: null,
  last_wrote_at: null,
  paused_until: null,
  last_text_at: null,
  source: 'keyword',
  stage_id: null,
  owner_id: null,
  fields: {},
  created_at: '2026-11-01T12:00:00.000Z',
  label_ids: [],
  programs: [],
  mail_programs: [],
  ...more,
});
