/** What the action that goes to another business takes. */
export function workspaceForm(id: string): FormData {
  const data = new FormData();
  data.set('workspace', id);
  return data;
}
