/** `npm run build`: the server and the browser application, ready to be started. */
import { buildServer, buildWeb } from './lib/build.mjs';
import { tellAndExit } from './lib/paths.mjs';

try {
  await buildServer();
  await buildWeb();
} catch (error) {
  tellAndExit(error);
}
