import { readConfig } from './config.js';
import { alone, migrate, openDatabase } from './database/database.js';
import { seedDemo } from './demo/seed.js';
import { loadExercises } from './domain/authoring/exercises.js';

const config = readConfig(process.env);
const database = openDatabase(config.databaseUrl);
const seeded = await alone(config.databaseUrl, async () => {
  await migrate(database);
  return seedDemo(database, await loadExercises(database), new Date());
});
process.stdout.write(seeded ? 'seeded\n' : 'kept\n');
await database.destroy();
