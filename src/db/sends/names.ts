/** What a send is called, whatever it is; `joinNames` joins where the names are. */
export const SEND_NAME = 'coalesce(b.name, q.name, t.name)';

/** `id`: the column that says which send. */
export const joinNames = (id: string): string =>
  `left join broadcast b on b.id = ${id} left join sequence q on q.id = ${id} left join batch t on t.id = ${id}`;
