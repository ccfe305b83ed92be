/**
 * `npm run database -- COMMAND …`: a database on two machines, and an archive. Run on the machine whose folder of
 * data it is about; the password of the user "contactum" is taken from DATABASE_PASSWORD.
 */
import { parseArgs } from 'node:util';
import { Plain, tellAndExit } from './lib/paths.mjs';
import * as pair from './lib/pair.mjs';

const USAGE = `usage: npm run database -- COMMAND …
  primary  --data DIR --port PORT [--listen ADDRESSES] [--peer NETWORK] [--archive DIR]   a new primary
  standby  --data DIR --port PORT --from HOST:PORT [--listen ADDRESSES] [--archive DIR]   a standby of it
  sync     --of HOST:PORT on|off          whether an entry waits until the standby has it
  promote  --data DIR                     the standby becomes the primary
  rebuild  --data DIR --from HOST:PORT    an old primary becomes a standby of the new one
  status   --of HOST:PORT
  base     --of HOST:PORT --data DIR --archive DIR   a copy, from which any later moment is restored
  restore  --archive DIR --to MOMENT --data NEW_DIR --port PORT   a moment, as a database of its own
  start    --data DIR
  stop     --data DIR`;

const hostOf = (text, name) => {
  const [, host, port] = /^(.+):(\d+)$/.exec(text ?? '') ?? [];
  if (host === undefined) throw new Plain(`--${name} HOST:PORT is missing.\n\n${USAGE}`);
  return { host, port: Number(port) };
};
const wanted = (values, name) => {
  if (values[name] === undefined) throw new Plain(`--${name} is missing.\n\n${USAGE}`);
  return values[name];
};
const numbered = (values) => {
  const port = Number(wanted(values, 'port'));
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Plain(`--port: "${values.port}" is no port.`);
  return port;
};

const COMMANDS = {
  primary(values, password) {
    const { listen, peer, archive } = values;
    pair.makePrimary({
      data: wanted(values, 'data'),
      port: numbered(values),
      password,
      ...(listen ? { listen } : {}),
      ...(peer ? { peers: peer } : {}),
      ...(archive ? { archive } : {}),
    });
    return 'The primary runs.';
  },
  async standby(values, password) {
    const { listen, archive } = values;
    await pair.makeStandby({
      data: wanted(values, 'data'),
      port: numbered(values),
      from: hostOf(values.from, 'from'),
      password,
      ...(listen ? { listen } : {}),
      ...(archive ? { archive } : {}),
    });
    return 'The standby follows. Now: npm run database -- sync --of PRIMARY on';
  },
  async sync(values, password, [on]) {
    if (on !== 'on' && on !== 'off') throw new Plain(`Say on or off.\n\n${USAGE}`);
    await pair.setSynchronous({ ...hostOf(values.of, 'of'), password }, on === 'on');
    return on === 'on'
      ? 'Nothing is acknowledged that the standby does not have.'
      : 'The primary waits for nobody.';
  },
  async promote(values, password) {
    await pair.promote({ data: wanted(values, 'data'), password });
    return 'This is the primary now. Keep the old one off until it is rebuilt: npm run database -- rebuild';
  },
  async rebuild(values, password) {
    const how = await pair.rebuild({
      data: wanted(values, 'data'),
      from: hostOf(values.from, 'from'),
      password,
    });
    return `A standby again (${how}). Now: npm run database -- sync --of PRIMARY on`;
  },
  async status(values, password) {
    const { standby, waits, followers } = await pair.statusOf({ ...hostOf(values.of, 'of'), password });
    if (standby) return 'a standby';
    const lines = followers.map(
      ({ name, state, sync, lag }) => `  ${name}: ${state}, ${sync}, ${lag.toFixed(1)} s behind`,
    );
    return [`the primary, ${waits ? `waits for ${waits}` : 'waits for nobody'}`, ...lines].join('\n');
  },
  base(values, password) {
    const into = wanted(values, 'archive');
    return pair.baseBackup({ of: hostOf(values.of, 'of'), data: wanted(values, 'data'), into, password });
  },
  async restore(values, password) {
    const moment = new Date(wanted(values, 'to'));
    if (Number.isNaN(moment.getTime()))
      throw new Plain(`--to: "${values.to}" is no moment such as 2026-11-30T10:15:00Z.`);
    const port = numbered(values);
    await pair.restoreTo({
      archive: wanted(values, 'archive'),
      moment,
      data: wanted(values, 'data'),
      port,
      password,
    });
    return `Everything as it was at ${moment.toISOString()}, at port ${port}. Look at it before you point DATABASE_URL there.`;
  },
  start: (values) => (pair.start(wanted(values, 'data')), 'started'),
  stop: (values) => (pair.stop(wanted(values, 'data')), 'stopped'),
};

try {
  const text = { type: 'string' };
  const { positionals, values } = parseArgs({
    allowPositionals: true,
    options: {
      data: text,
      port: text,
      from: text,
      of: text,
      to: text,
      listen: text,
      peer: { type: 'string', multiple: true },
      archive: text,
    },
  });
  const [name = '', ...rest] = positionals;
  const command = COMMANDS[name];
  if (!command) throw new Plain(USAGE);
  const password = process.env.DATABASE_PASSWORD;
  if (!password && name !== 'start' && name !== 'stop') throw new Plain('DATABASE_PASSWORD is missing.');
  console.log(await command(values, password, rest));
} catch (error) {
  tellAndExit(error);
}
