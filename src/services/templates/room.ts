import type { Room } from '@/services/kit/room';
import { TEMPLATES_API } from './api';

export const TEMPLATES: Room = {
  name: 'templates',
  finds: [
    {
      kind: 'template',
      table: 'template',
      label: 'name',
      where: '(owner_id is null or owner_id = :viewer)',
      at: '/sends/templates/',
    },
  ],
  api: TEMPLATES_API,
};
