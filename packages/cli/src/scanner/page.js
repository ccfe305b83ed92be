import express from 'express';
import { describeStimulus, readingsFor } from '@contactum/core';
/** The page of a simulated box: leads are plugged, made loose, and the box is made to fail. */
export function boxPage(box) {
  const app = express();
  app.use(express.json());
  const holds = readingsFor(box.bench).map((steps) => ({
    steps,
    words: steps.length === 0 ? 'at rest' : steps.map(describeStimulus).join(', '),
  }));
  const told = (response, act) => {
    try {
      act();
      response.json({ ...box.state, holds });
    } catch (error) {
      response.status(400).json({ error: error.message });
    }
  };
  app.get('/state', (_request, response) => told(response, () => undefined));
  app.put('/leads', (request, response) => told(response, () => box.plug(request.body)));
  app.put('/steps', (request, response) => told(response, () => box.work(request.body)));
  app.put('/settings', (request, response) => told(response, () => box.set(request.body)));
  app.get('/', (_request, response) => void response.type('html').send(PAGE));
  return app;
}
const PAGE = `<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Simulated board</title>
<style>
  body { font: 15px/1.5 sans-serif; max-width: 60em; margin: 1.5em auto; padding: 0 1em; }
  table { border-collapse: collapse; } td { border-bottom: 1px solid #ccc; padding: 2px 12px 2px 0; }
  label { margin-right: 1.2em; } .wrong { color: #a00; }
</style>
<h1>Simulated board behind a scanner</h1>
<p>Leads of a dead board, as a scanner reads it by Modbus TCP. A teaching aid and no safety function.</p>
<form id="plug">
  <label>From <select id="from"></select></label><label>To <select id="to"></select></label>
  <button>Plug the lead</button> <span id="wrong" class="wrong" role="alert"></span>
</form>
<table aria-label="Leads"><tbody id="leads"></tbody></table>
<p><label>Devices are held: <select id="held"></select></label></p>
<h2>The box</h2>
<form id="box">
  <label>Wrong readings <input id="noise" type="number" min="0" max="0.4" step="0.01" style="width:5em"></label>
  <label>Answers late by <input id="lag" type="number" min="0" max="5000" style="width:6em"> ms</label>
  <label><input id="supply" type="checkbox"> a supply is present</label>
  <label><input id="dead" type="checkbox"> the box has died</label>
</form>
<p>Permit relay: <strong id="permit"></strong></p>
<script type="module">
const $ = (id) => document.getElementById(id);
let state = { leads: [] };
const put = async (path, body) => {
  const headers = { 'content-type': 'application/json' };
  const answer = await fetch(path, { method: 'PUT', headers, body: JSON.stringify(body) });
  const told = await answer.json();
  $('wrong').textContent = told.error ?? '';
  if (answer.ok) show(told);
};
const button = (text, act) => Object.assign(document.createElement('button'), { textContent: text, onclick: act });
const show = (next) => {
  state = next;
  if ($('from').options.length === 0)
    for (const id of ['from', 'to']) $(id).append(...state.terminals.map((ref) => new Option(ref)));
  if ($('held').options.length === 0) $('held').append(...state.holds.map(({ words }, k) => new Option(words, k)));
  const held = state.holds.findIndex(({ steps }) => JSON.stringify(steps) === JSON.stringify(state.steps));
  if (document.activeElement !== $('held')) $('held').value = String(held);
  $('leads').replaceChildren(...state.leads.map((lead, k) => {
    const row = document.createElement('tr');
    const change = (more) => put('/leads', state.leads.with(k, { ...lead, ...more }));
    const marks = (lead.loose ? ' · loose' : '') + (lead.poor ? ' · poor' : '');
    row.insertCell().textContent = lead.from + ' – ' + lead.to + marks;
    row.insertCell().append(button(lead.loose ? 'tighten' : 'make loose', () => change({ loose: !lead.loose })));
    row.insertCell().append(button(lead.poor ? 'clean' : 'poor contact', () => change({ poor: !lead.poor })));
    row.insertCell().append(button('unplug', () => put('/leads', state.leads.toSpliced(k, 1))));
    return row;
  }));
  $('permit').textContent = state.permit.closed ? 'closed' : 'open';
  for (const id of ['noise', 'lag']) if (document.activeElement !== $(id)) $(id).value = state.settings[id];
  for (const id of ['supply', 'dead']) $(id).checked = state.settings[id];
};
$('plug').onsubmit = (event) => {
  event.preventDefault();
  put('/leads', [...state.leads, { from: $('from').value, to: $('to').value }]);
};
$('held').onchange = () => put('/steps', state.holds[Number($('held').value)].steps);
for (const id of ['noise', 'lag']) $(id).onchange = () => put('/settings', { [id]: Number($(id).value) });
for (const id of ['supply', 'dead']) $(id).onchange = () => put('/settings', { [id]: $(id).checked });
const look = async () => show(await (await fetch('/state')).json());
look();
setInterval(look, 1000);
</script>
</html>`;
//# sourceMappingURL=page.js.map
