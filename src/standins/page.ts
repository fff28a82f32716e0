/** The bench's own page: plain HTML, no build, nothing fetched but the bench's API. */
export const PAGE = /* html */ `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Test bench · Steady Wren</title>
<style>
  :root { --paper:#f4f1ea; --ink:#26231e; --soft:#5f584c; --rule:#cfc7b6; --accent:#8f3d1f; color-scheme: light; }
  @media (prefers-color-scheme: dark) { :root { --paper:#1d1b18; --ink:#e9e4d8; --soft:#ada493; --rule:#45403a; --accent:#e59a78; color-scheme: dark; } }
  @font-face { font-family:'Bench Text'; src:url(/faces/text.woff2) format('woff2'); font-weight:400 700; font-display:swap }
  @font-face { font-family:'Bench Head'; src:url(/faces/head.woff2) format('woff2'); font-weight:200 800; font-display:swap }
  * { box-sizing: border-box } body { margin:0; background:var(--paper); color:var(--ink); font:15px/1.45 'Bench Text', ui-sans-serif, system-ui, sans-serif }
  header, main { max-width: 1180px; margin: 0 auto; padding: 14px 24px } header { display:flex; gap:24px; align-items:baseline; flex-wrap:wrap; border-bottom:1px solid var(--ink) }
  h1, h2 { font-family:'Bench Head', serif; font-weight:500 }
  nav { display:flex; gap:16px } nav a { color:inherit; text-decoration:none; padding:2px 0 } nav a[aria-current] { border-bottom:2px solid var(--accent) }
  .pic { display:block; max-width:180px; margin-top:4px }
  [hidden] { display:none !important } .letter { border-bottom:1px solid var(--rule); padding:10px 0 } .letter pre { white-space:pre-wrap; font:inherit; margin:6px 0; overflow-wrap:anywhere } .acts { display:flex; flex-wrap:wrap; gap:8px; margin-top:6px }
  h1 { font-size:20px; margin:0 } h2 { font-size:15px; margin:0 0 6px; border-bottom:1px solid var(--rule); padding-bottom:3px }
  main { display:grid; grid-template-columns: minmax(0,1fr) 340px; gap: 28px } @media (max-width: 800px) { main { grid-template-columns: minmax(0,1fr) } }
  .soft { color:var(--soft) } .num { font-variant-numeric: tabular-nums }
  label { display:block; font-size:13px; color:var(--soft); margin:8px 0 2px }
  input, select, textarea, button { font:inherit; color:inherit; background:transparent; border:1px solid var(--soft); padding:5px 8px; border-radius:2px }
  input, textarea, select { width:100% } option { color:#000 } button { cursor:pointer } button.main { background:var(--accent); border-color:var(--accent); color:var(--paper) }
  :focus-visible { outline:2px solid var(--accent); outline-offset:2px }
  .handset { border-bottom:1px solid var(--rule); padding:10px 0 14px } .row { display:flex; gap:8px; align-items:flex-end } .row > div { flex:1; min-width:0 }
  table { width:100%; border-collapse:collapse; margin:6px 0 } td { padding:3px 10px 3px 0; vertical-align:top; border-top:1px dotted var(--rule); overflow-wrap:anywhere } td:first-child, td:nth-child(2) { white-space:nowrap; color:var(--soft) }
  #faultform { display:grid; grid-template-columns:1fr 1fr; gap:0 12px } #faultform label { margin:6px 0 1px } #faultform input { padding:3px 6px }
  #fixedboxes td:nth-child(2) { white-space:normal } .error { color:var(--accent); margin:0 } .error:not(:empty) { margin:0 0 12px } section { margin-bottom:22px }
</style>
</head>
<body>
<header><h1>Test bench</h1><nav aria-label="Places"><a href="#handsets">Handsets</a><a href="#mailboxes">Mailboxes</a><a href="#portals">Portals</a><a href="#telephone">Telephone</a></nav><span class="soft">simulated: nothing here reaches a real phone or mailbox</span><span class="num" id="clock" aria-live="polite"></span></header>
<main>
  <div><p class="error" id="error" role="alert"></p>
  <section aria-labelledby="phones" data-place="handsets"><h2 id="phones">Handsets</h2>
    <form id="make" class="row"><div><label for="number">A fictional number, or a chat id</label><input id="number" class="num" placeholder="(303) 555-0142" required></div><button class="main">Make a handset</button></form>
    <div id="handsets"><p class="soft">No handset yet. Make one, then text a keyword such as <b>sky</b> to the program’s number (it stands on the program’s page).</p></div>
  </section>
  <section aria-labelledby="boxes" data-place="mailboxes" hidden><h2 id="boxes">Mailboxes</h2>
    <form id="whose" class="row"><div><label for="mailbox">Whose mailbox</label><select id="mailbox"><option value="">everybody’s, the latest first</option></select></div></form>
    <div id="mails"><p class="soft">No letter yet. Send a broadcast by e-mail: letters to any address arrive here.</p></div>
  </section>
  <section aria-labelledby="doors" data-place="portals" hidden><h2 id="doors">Portals</h2>
    <p class="soft">People ask about visits here. Say where a portal sends to (the address stands on the source’s page), then ask as a guest would.</p>
    <div id="portals"></div>
  </section>
  <section aria-labelledby="board" data-place="telephone" hidden><h2 id="board">Telephone</h2>
    <p class="soft">A telephone system that tells what happens to calls. Say where it tells (the address stands under Numbers), then call.</p>
    <form id="boardwhere" class="row"><div><label for="boardto">Tells at</label><input id="boardto" class="num"></div><div><label for="boardsecret">Secret, if it signs</label><input id="boardsecret"></div><button>Keep</button></form>
    <form id="ring" class="row"><div><label for="ringfrom">From</label><input id="ringfrom" class="num" placeholder="(303) 555-0142" required></div><div><label for="ringto">To</label><input id="ringto" class="num" placeholder="number of the business" required></div><div><label for="ringway">Who calls</label><select id="ringway"><option value="inbound">a person calls us</option><option value="outbound">we call a person</option></select></div><button class="main">Ring</button></form>
    <div class="row"><div><label for="ringagent">Who is at the phone</label><input id="ringagent" placeholder="name of a teammate"></div><div><label for="ringoutcome">What it came to</label><input id="ringoutcome" placeholder="no answer, left voicemail"></div></div>
    <table class="num" id="calls"></table>
  </section></div>
  <div>
    <section aria-labelledby="time"><h2 id="time">Clock</h2><p class="soft">Only forward. Receipts, schedules and sending hours follow it.</p>
      <div class="row" id="moves"><button data-by="PT15M">+15 min</button><button data-by="PT1H">+1 h</button><button data-by="PT12H">+12 h</button><button data-by="P1D">+1 day</button></div></section>
    <section aria-labelledby="faults" data-place="handsets"><h2 id="faults">Carrier</h2><p class="num" id="links"></p>
      <form id="faultform"></form><p><button id="drop">Cut the link now</button> <button id="calm">No faults</button></p></section>
    <section aria-labelledby="fixed" data-place="handsets"><h2 id="fixed">Numbers that always behave in one way</h2><table class="num" id="numbers"></table></section>
    <section aria-labelledby="asked" data-place="portals" hidden><h2 id="asked">What was asked</h2><table class="num" id="brought"></table></section>
    <section aria-labelledby="fixedmail" data-place="mailboxes" hidden><h2 id="fixedmail">Mailboxes that always behave in one way</h2><p class="soft">By how the name before the @ begins.</p><table id="fixedboxes"></table></section>
  </div>
</main>
<script>
const $ = (id) => document.getElementById(id);
const api = async (method, path, body) => {
  const response = await fetch(path, { method, headers: { 'content-type': 'application/json' }, body: body && JSON.stringify(body) });
  const json = await response.json();
  $('error').textContent = response.ok ? '' : json.detail;
  return response.ok ? json : null;
};
const el = (tag, props = {}, ...children) => { const node = Object.assign(document.createElement(tag), props); node.append(...children); return node; };
let offset = 0;
const tick = () => { $('clock').textContent = new Date(Date.now() + offset).toISOString().slice(0, 19).replace('T', ' ') + ' UTC' + (offset ? ' (moved)' : ''); };
setInterval(tick, 1000);
// Of a picture message it is kept here; of a chat message it is shown from where it stands.
const shownFile = (file) => {
  const at = file.url || '/files/' + file.id;
  const size = file.size ? ', ' + Math.round(file.size / 1000) + ' kB' : '';
  return file.type.startsWith('image/')
    ? el('img', { src: at, alt: file.alt || file.name, title: file.name + size, className: 'pic' })
    : el('a', { href: at, textContent: file.name, className: 'pic' });
};
const base64 = async (file) => { let text = ''; for (const byte of new Uint8Array(await file.arrayBuffer())) text += String.fromCharCode(byte); return btoa(text); };
// What can be pressed under a chat message, and the way to block who sent it.
const chatActs = (handset, text) => {
  if (!text.chat || text.direction !== 'in') return [];
  const where = '/handsets/' + encodeURIComponent(handset.number);
  const act = (label, path, body) => { const button = el('button', { type: 'button', textContent: label }); button.onclick = () => api('POST', where + path, { to: text.chat, ...body }); return button; };
  return [el('div', { className: 'acts' }, ...(text.buttons || []).filter((one) => one.kind === 'reply').map((one) => act(one.words, '/chats', { button: one.words })), act('Block', '/block', {}))];
};
// A voicemail is heard here, and called back.
const voicemailActs = (handset, text) => {
  if (!text.voicemail) return [];
  const back = el('button', { type: 'button', textContent: 'Call back' });
  back.onclick = async () => { if (await api('POST', '/switchboard/calls', { from: handset.number, to: text.from })) location.hash = '#telephone'; };
  return [el('div', { className: 'acts' }, el('audio', { controls: true, preload: 'none', src: '/voicemail/sounds/' + text.voicemail.sound }), back)];
};
async function showHandsets() {
  const data = await api('GET', '/handsets');
  if (!data || data.handsets.length === 0) return;
  const box = $('handsets');
  for (const handset of data.handsets) {
    const id = 'h' + handset.number.replace('+', '');
    let node = $(id);
    if (!node) {
      const to = el('input', { id: id + 'to', className: 'num', placeholder: 'number to text', value: localStorage.getItem('to') || '' });
      const body = el('input', { id: id + 'body', placeholder: 'text' });
      const pic = el('input', { id: id + 'pic', type: 'file', title: 'a picture with it' });
      const by = el('select', { id: id + 'by' }, el('option', { value: 'texts', textContent: 'text' }), el('option', { value: 'chats', textContent: 'chat' }));
      if (!handset.number.startsWith('+')) by.value = 'chats';
      const form = el('form', { className: 'row' }, el('div', {}, el('label', { htmlFor: by.id, textContent: 'By' }), by), el('div', {}, el('label', { htmlFor: to.id, textContent: 'To' }), to), el('div', {}, el('label', { htmlFor: body.id, textContent: 'Text' }), body), el('div', {}, el('label', { htmlFor: pic.id, textContent: 'Picture' }), pic), el('button', { className: 'main', textContent: 'Send it' }));
      form.onsubmit = async (event) => { event.preventDefault(); localStorage.setItem('to', to.value); const file = pic.files[0]; const where = '/handsets/' + encodeURIComponent(handset.number); const sent = by.value === 'chats' ? await api('POST', where + '/chats', { to: to.value || 'juniper', body: body.value, ...(file ? { files: [{ name: file.name.replace(/[^\\w.-]/g, '-'), type: file.type || 'application/octet-stream', content: await base64(file) }] } : {}) }) : file ? await api('POST', where + '/pictures', { to: to.value, body: body.value, files: [{ name: file.name.replace(/[^\\w.-]/g, '-'), type: file.type || 'application/octet-stream', content: await base64(file) }] }) : await api('POST', where + '/texts', { to: to.value, body: body.value }); if (sent) { body.value = ''; pic.value = ''; } };
      node = el('div', { id, className: 'handset' }, el('strong', { className: 'num', textContent: handset.number }), el('span', { className: 'soft', textContent: handset.behaviour === 'normal' ? '' : ' · ' + handset.behaviour }), el('table'), form);
      if (box.querySelector('p')) box.replaceChildren();
      box.prepend(node);
    }
    node.querySelector('table').replaceChildren(...handset.texts.slice(-8).map((text) => el('tr', {}, el('td', { className: 'num', textContent: text.at.slice(5, 16).replace('T', ' ') }), el('td', { textContent: text.direction === 'in' ? 'got from ' + text.from : 'sent to ' + text.to }), el('td', {}, el('span', { textContent: text.body }), ...(text.files || text.pictures || []).map(shownFile), ...voicemailActs(handset, text), ...chatActs(handset, text)))));
  }
}
$('make').onsubmit = async (event) => { event.preventDefault(); if (await api('POST', '/handsets', { number: $('number').value })) { $('number').value = ''; showHandsets(); } };
for (const button of $('moves').children) button.onclick = () => api('POST', '/clock', { advance: button.dataset.by });
$('drop').onclick = () => api('POST', '/carrier/drop', {});
const LABELS = { submit_latency_ms: 'Answer after (ms)', receipt_latency_ms: 'Receipt after (ms)', throttle_per_second: 'Throttle above (a second)', refuse_share: 'Refuse (share)', refuse_status: 'Refuse with status', lost_receipt_share: 'Lose receipts (share)', double_receipt_share: 'Double receipts (share)', late_receipt_share: 'Late receipts (share)', late_by: 'Late by', drop_link_after: 'Cut the link after (submits)', inbound_id_share: 'Texts in with an id (share)', inbound_payload_share: 'Body as payload (share)', picture_cut_share: 'Pictures: cut the answer (share)' };
async function showCarrier(reset) {
  const data = await api('GET', '/carrier');
  if (!data) return;
  $('links').textContent = data.links + (data.links === 1 ? ' link' : ' links') + ' bound · ' + data.submitted + ' texts taken · ' + data.receipts + ' receipts · ' + data.inbound + ' texts in';
  if ($('faultform').children.length && !reset) return;
  $('faultform').replaceChildren(...Object.entries(data.faults).flatMap(([name, value]) => {
    const input = el('input', { id: 'f' + name, value: value ?? '', className: 'num' });
    input.onchange = () => api('PUT', '/carrier/faults', { [name]: input.value === '' ? null : name === 'late_by' ? input.value : Number(input.value) });
    return [el('div', {}, el('label', { htmlFor: input.id, textContent: LABELS[name] || name }), input)];
  }));
}
$('faultform').onsubmit = (event) => event.preventDefault();
$('calm').onclick = async () => { await api('PUT', '/carrier/faults', { submit_latency_ms: 1, receipt_latency_ms: 30, throttle_per_second: null, refuse_share: 0, lost_receipt_share: 0, double_receipt_share: 0, late_receipt_share: 0, drop_link_after: null }); showCarrier(true); };
api('GET', '/numbers').then((data) => $('numbers').replaceChildren(...Object.entries(data.numbers).map(([number, what]) => el('tr', {}, el('td', { textContent: number }), el('td', { textContent: what.replaceAll('-', ' ') })))));
const ACTS = { answer: 'Answer', follow: 'Follow the link', leave: 'Leave with one click', 'return': 'Send it back: no such mailbox', full: 'Send it back: mailbox full', complain: 'Complain: spam' };
const shownMails = new Map();
const letter = (mail) => {
  const words = el('input', { id: 'w' + mail.id, placeholder: 'what they answer' });
  const acts = Object.entries(ACTS).map(([act, label]) => { const button = el('button', { type: 'button', textContent: label }); button.onclick = async () => { if (await api('POST', '/mails/' + mail.id, { act, words: words.value })) { words.value = ''; showMails(); } }; return button; });
  const done = el('span', { className: 'soft', textContent: mail.done.length ? ' · ' + mail.done.join(', ') : '' });
  const read = el('details', {}, el('summary', { textContent: 'Read it' }), el('pre', { textContent: mail.text }), el('p', { className: 'soft num', textContent: Object.entries(mail.headers).filter(([name]) => /^(list-unsubscribe|auto-submitted|message-id|in-reply-to|reply-to)/.test(name)).map(([name, value]) => name + ': ' + value).join('  ·  ') }));
  return el('div', { className: 'letter', id: 'm' + mail.id }, el('div', {}, el('strong', { textContent: mail.subject || '(no subject)' }), done), el('div', { className: 'soft num', textContent: mail.at.slice(5, 16).replace('T', ' ') + ' · to ' + mail.to + ' · from ' + mail.from }), read, el('label', { htmlFor: words.id, textContent: 'Their answer' }), words, el('div', { className: 'acts' }, ...acts));
};
async function showMails() {
  const whose = $('mailbox').value;
  const data = await api('GET', whose ? '/mailboxes/' + encodeURIComponent(whose) + '/mails' : '/mails');
  if (!data || data.mails.length === 0) return;
  const state = data.mails.map((mail) => mail.id + mail.done.length).join();
  if (shownMails.get('state') === state) return;
  const open = new Set([...document.querySelectorAll('.letter details[open]')].map((node) => node.parentNode.id));
  shownMails.set('state', state);
  $('mails').replaceChildren(...data.mails.slice(0, 40).map(letter));
  for (const id of open) document.querySelector('#' + id + ' details')?.setAttribute('open', '');
}
async function showBoxes() {
  const data = await api('GET', '/mailboxes');
  if (!data) return;
  const chosen = $('mailbox').value;
  $('mailbox').replaceChildren(el('option', { value: '', textContent: 'everybody’s, the latest first' }), ...data.mailboxes.map((box) => el('option', { value: box.address, textContent: box.address + ' (' + box.mails + ')' })));
  $('mailbox').value = chosen;
  $('fixedboxes').replaceChildren(...data.fixed.map((box) => el('tr', {}, el('td', { textContent: box.begins + '…' }), el('td', { textContent: box.does }))));
}
$('mailbox').onchange = () => { shownMails.clear(); showMails(); };
$('whose').onsubmit = (event) => event.preventDefault();
const MOODS = { usual: 'as usual', slow: 'slow: the body drips', twice: 'sends everything twice', down: 'down: nothing leaves', changed: 'its fields have other names', replayed: 'signed an hour ago' };
const field = (id, label, props = {}) => [el('label', { htmlFor: id, textContent: label }), el(props.rows ? 'textarea' : 'input', { id, ...props })];
const portalOf = (portal, moods) => {
  const id = (name) => portal.id + '-' + name;
  const set = (change) => api('PUT', '/portals/' + portal.id, change);
  const mood = el('select', { id: id('mood') }, ...moods.map((one) => el('option', { value: one, textContent: MOODS[one] || one })));
  mood.value = portal.mood;
  mood.onchange = () => set({ mood: mood.value });
  const form = el('form', {},
    el('div', { className: 'row' }, el('div', {}, ...field(id('to'), 'Sends to', { className: 'num', value: portal.to })), ...(portal.id === 'evenings-out' ? [] : [el('div', {}, ...field(id('secret'), 'Secret', { value: portal.secret }))]), el('div', {}, el('label', { htmlFor: mood.id, textContent: 'Mood' }), mood)),
    el('div', { className: 'row' }, el('div', {}, ...field(id('name'), 'Name')), el('div', {}, ...field(id('number'), 'Number', { className: 'num', placeholder: '(303) 555-0142' })), el('div', {}, ...field(id('email'), 'E-mail')), el('div', {}, ...field(id('what'), 'About', { placeholder: 'Class trip' }))),
    ...field(id('words'), 'What they write', { rows: 2 }),
    el('p', {}, el('button', { className: 'main', textContent: 'Ask' })));
  const value = (name) => document.getElementById(id(name)).value;
  form.onsubmit = async (event) => { event.preventDefault(); const where = { to: value('to'), ...(portal.id === 'evenings-out' ? {} : { secret: value('secret') }) }; if (await set(where) && await api('POST', '/portals/' + portal.id + '/inquiries', Object.fromEntries(['name', 'number', 'email', 'what', 'words'].map((name) => [name, value(name)])))) showPortals(); };
  return el('div', { className: 'handset' }, el('strong', { textContent: portal.name }), el('div', { className: 'soft', textContent: portal.speaks }), form);
};
async function showPortals() {
  const data = await api('GET', '/portals');
  if (!data) return;
  if (!$('portals').children.length) $('portals').replaceChildren(...data.portals.map((portal) => portalOf(portal, data.moods)));
  $('brought').replaceChildren(...(data.brought.length ? data.brought.slice(0, 20).map((one) => el('tr', {}, el('td', { textContent: one.at.slice(11, 16) }), el('td', { textContent: one.name || 'nobody' }), el('td', { textContent: one.portal + ': ' + (one.answers.join(', ') || 'under way') }))) : [el('tr', {}, el('td', { textContent: 'Nothing yet.' }))]));
}
async function showBoard() {
  const data = await api('GET', '/switchboard');
  if (!data) return;
  if (document.activeElement !== $('boardto') && !$('boardto').value) { $('boardto').value = data.to; $('boardsecret').value = data.secret; }
  const act = (call, label, act) => { const button = el('button', { type: 'button', textContent: label }); button.onclick = async () => { await api('POST', '/switchboard/calls/' + call.id, { act, agent: $('ringagent').value, outcome: $('ringoutcome').value }); showBoard(); }; return button; };
  $('calls').replaceChildren(...data.calls.map((call) => el('tr', {}, el('td', { textContent: call.started.slice(11, 19) }), el('td', { textContent: call.from + ' → ' + call.to }), el('td', { textContent: call.state + (call.outcome ? ', ' + call.outcome : '') }), el('td', {}, el('div', { className: 'acts' }, ...(call.state === 'ringing' ? [act(call, 'Answer', 'answer'), act(call, 'Nobody picks up', 'miss')] : []), ...(call.state === 'answered' ? [act(call, 'Hang up', 'hang-up')] : []), act(call, 'Tag', 'tag'))))));
}
$('boardwhere').onsubmit = (event) => { event.preventDefault(); api('PUT', '/switchboard', { to: $('boardto').value, secret: $('boardsecret').value }); };
$('ring').onsubmit = async (event) => { event.preventDefault(); const way = $('ringway').value; if (await api('POST', '/switchboard/calls', { from: $('ringfrom').value, to: $('ringto').value, direction: way, agent: $('ringagent').value })) showBoard(); };
function go() {
  const place = ['#mailboxes', '#portals', '#telephone'].includes(location.hash) ? location.hash.slice(1) : 'handsets';
  for (const node of document.querySelectorAll('[data-place]')) node.hidden = node.dataset.place !== place;
  for (const link of document.querySelectorAll('nav a')) if (link.hash === '#' + place) link.setAttribute('aria-current', 'page'); else link.removeAttribute('aria-current');
  if (place === 'mailboxes') { showBoxes(); showMails(); }
  if (place === 'portals') showPortals();
  if (place === 'telephone') showBoard();
}
window.onhashchange = go; go();
setInterval(() => { if (location.hash === '#mailboxes') { showMails(); showBoxes(); } if (location.hash === '#portals') showPortals(); if (location.hash === '#telephone') showBoard(); }, 2000);
const events = new EventSource('/stream');
events.addEventListener('clock', (event) => { offset = JSON.parse(event.data).offset_ms; tick(); });
events.addEventListener('texts', showHandsets);
showHandsets(); showCarrier(); setInterval(showCarrier, 2000);
</script>
</body>
</html>`;
