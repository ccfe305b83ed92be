import { availableParallelism } from 'node:os';
import { z } from 'zod';

const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((value) => value === '1');

/** What a process is told by its environment; `docs/operation.md` lists it. */
const schema = z.object({
  DATABASE_URL: z.string().min(1),
  SESSION_SECRET: z.string().min(16, 'must be at least 16 characters long'),
  HOST: z.string().min(1).optional(),
  PORT: z.coerce.number({ error: 'must be a number' }).int().min(0).max(65535).default(4180),
  ALLOWED_HOSTS: z.string().default(''),
  WEB_ROOT: z.string().optional(),
  SERVE: z.enum(['all', 'web', 'work']).default('all'),
  WEB_PROCESSES: z.coerce.number({ error: 'must be a number' }).int().min(0).max(32).default(0),
  MARKING_THREADS: z.coerce
    .number({ error: 'must be a number' })
    .int()
    .min(1)
    .max(16)
    .default(Math.min(2, availableParallelism())),
  MARKING_SECONDS: z.coerce.number({ error: 'must be a number' }).min(1).max(3600).default(20),
  REPAIR_SECONDS: z.coerce.number({ error: 'must be a number' }).min(1).max(3600).default(60),
  SECURE_COOKIE: flag,
  TRUST_PROXY: z.coerce.number({ error: 'must be a number' }).int().min(0).max(10).default(0),
  SIGN_IN_LIMIT: z.coerce.number({ error: 'must be a number' }).int().min(1).default(10),
  STAY_DAYS: z.coerce.number({ error: 'must be a number' }).int().min(0).max(400).default(120),
  LOG_LEVEL: z.enum(['silent', 'error', 'warn', 'info']).default('warn'),
  LOG_FILE: z.string().optional(),
  LOG_SCREEN: flag,
});

export interface Config {
  readonly databaseUrl: string;
  readonly sessionSecret: string;
  /** Address to listen on; all of the machine's where none is named. */
  readonly host: string | undefined;
  readonly port: number;
  /** Names by which the server may be addressed besides localhost and plain addresses. */
  readonly allowedHosts: readonly string[];
  /** Folder of the built browser application; none serves the interface alone. */
  readonly webRoot: string | undefined;
  /**
   * What is started here: everything, what answers, or what marks; web and marking may be on different
   * machines.
   */
  readonly serve: 'all' | 'web' | 'work';
  /** Web processes, beside one for marking where everything is started; 0 does it in one. */
  readonly webProcesses: number;
  readonly markingThreads: number;
  /**
   * Longest turn of a marking, seconds; what takes longer is marked beside the others, with nine times as
   * long.
   */
  readonly markingSeconds: number;
  readonly repairSeconds: number;
  /** The session's cookie travels by HTTPS alone. */
  readonly secureCookie: boolean;
  /** Proxies in front of the server whose word on the sender's address counts. */
  readonly trustProxy: number;
  /** Wrong sign-ins a minute by one address for one name that cost no waiting. */
  readonly signInLimit: number;
  /** Days for which somebody may stay signed in on a computer of their own; 0 where nobody may. */
  readonly stayDays: number;
  readonly logLevel: 'silent' | 'error' | 'warn' | 'info';
  readonly logFile: string | undefined;
  readonly logScreen: boolean;
}

/** Reads the environment; throws one line that names every setting that is wrong. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const read = schema.safeParse(env);
  if (!read.success)
    throw new Error(read.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; '));
  const { data } = read;
  return {
    databaseUrl: data.DATABASE_URL,
    sessionSecret: data.SESSION_SECRET,
    host: data.HOST,
    port: data.PORT,
    allowedHosts: data.ALLOWED_HOSTS.split(',')
      .map((name) => name.trim().toLowerCase())
      .filter(Boolean),
    webRoot: data.WEB_ROOT,
    serve: data.SERVE,
    webProcesses: data.WEB_PROCESSES,
    markingThreads: data.MARKING_THREADS,
    markingSeconds: data.MARKING_SECONDS,
    repairSeconds: data.REPAIR_SECONDS,
    secureCookie: data.SECURE_COOKIE,
    trustProxy: data.TRUST_PROXY,
    signInLimit: data.SIGN_IN_LIMIT,
    stayDays: data.STAY_DAYS,
    logLevel: data.LOG_LEVEL,
    logFile: data.LOG_FILE,
    logScreen: data.LOG_SCREEN,
  };
}
