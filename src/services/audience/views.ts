import type { Segment } from '@/db/audience/entities';
import { iso } from '@/services/kit/views';

export const segmentView = (segment: Segment) => ({
  id: segment.id,
  name: segment.name,
  condition: segment.condition,
  columns: segment.columns,
  version: segment.version,
  created_at: iso(segment.createdAt),
});
