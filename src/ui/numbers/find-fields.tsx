/** What is looked for among the numbers of a provider. It is sent as the address of a page, so that it can be kept. */
export function FindFields({ asked }: { asked: Readonly<Record<string, string>> }) {
  const line = (name: string, label: string, rest: React.ComponentProps<'input'> = {}) => (
    <label className="block">
      <span className="mb-1 block text-sm text-soft">{label}</span>
      <input className="input" name={name} defaultValue={asked[name] ?? ''} autoComplete="off" {...rest} />
    </label>
  );
  const tick = (name: string, words: string) => (
    <label className="flex items-baseline gap-2">
      <input type="checkbox" name={name} defaultChecked={asked[name] === 'on'} /> {words}
    </label>
  );
  return (
    <form method="get" className="mb-6 border-b border-rule pb-4">
      <div className="grid gap-x-4 gap-y-3 sm:grid-cols-4">
        {line('area', 'Area code', { inputMode: 'numeric', maxLength: 10 })}
        {line('town', 'Town', { maxLength: 80 })}
        {line('digits', 'Digits or a word in it', { maxLength: 20, placeholder: 'STAR' })}
        <label className="block">
          <span className="mb-1 block text-sm text-soft">Kind</span>
          <select className="input" name="kind" defaultValue={asked.kind ?? ''}>
            <option value="">any</option>
            <option value="local">local number</option>
            <option value="toll-free">toll-free number</option>
            <option value="short-code">short code</option>
          </select>
        </label>
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        {tick('pictures', 'sends pictures')}
        {tick('calls', 'takes calls')}
        <button className="button button-main">Look</button>
      </div>
    </form>
  );
}
