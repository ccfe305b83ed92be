import { availableParallelism } from 'node:os';
import { z } from 'zod';
import { isSafeUrl } from './domain/doors/platforms.js';
import type { RoleRule, SignOnConfig } from './domain/doors/sign-on.js';
import type { StatementStore } from './domain/doors/tell-marks.js';

const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((value) => value === '1');

const optional = z
  .string()
  .optional()
  .transform((text) => (text === '' ? undefined : text));

const address = z
  .url('must be an address')
  .refine(isSafeUrl, 'must begin with https://, or with http:// on this machine')
  .optional();

/** `administrator groups=it; instructor affiliation=staff; student affiliation=student`. */
const rules = z
  .string()
  .default('')
  .transform((text, context): RoleRule[] => {
    const parts = text.split(';').map((part) => part.trim());
    return parts.filter(Boolean).flatMap((part) => {
      const [, role, claim, value] =
        /^(administrator|instructor|student)\s+([\w:/.-]+)=(.+)$/.exec(part) ?? [];
      if (role !== undefined && claim !== undefined && value !== undefined)
        return [{ role: role as RoleRule['role'], claim, value }];
      context.addIssue(`"${part}" is no rule such as "instructor affiliation=staff"`);
      return [];
    });
  });

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
  PUBLIC_URL: address,
  PASSWORDS: z.enum(['on', 'off']).default('on'),
  OIDC_ISSUER: address,
  OIDC_CLIENT_ID: optional,
  OIDC_CLIENT_SECRET: optional,
  OIDC_NAME: z.string().min(1).default('College sign-on'),
  OIDC_ROLES: rules,
  OIDC_LOGIN_CLAIM: optional,
  XAPI_URL: address,
  XAPI_CREDENTIALS: optional,
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
  /** Address by which the server is reached from outside; that of each request where none is set. */
  readonly publicUrl: string | null;
  /** Whether people sign in with passwords; an administrator always may. */
  readonly passwords: boolean;
  /** The college's own sign-on, where there is one. */
  readonly signOn: SignOnConfig | null;
  /** Where xAPI statements of recorded marks go, if anywhere. */
  readonly statements: StatementStore | null;
}

/** Reads the environment; throws one line that names every setting that is wrong. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const read = schema.safeParse(env);
  if (!read.success)
    throw new Error(read.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; '));
  const { data } = read;
  const publicUrl = data.PUBLIC_URL?.replace(/\/$/, '') ?? null;
  if (data.OIDC_ISSUER !== undefined && data.OIDC_CLIENT_ID === undefined)
    throw new Error('OIDC_CLIENT_ID: is missing');
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
    publicUrl,
    passwords: data.PASSWORDS === 'on',
    signOn:
      data.OIDC_ISSUER === undefined
        ? null
        : {
            name: data.OIDC_NAME,
            issuer: data.OIDC_ISSUER,
            clientId: data.OIDC_CLIENT_ID ?? '',
            clientSecret: data.OIDC_CLIENT_SECRET ?? null,
            rules: data.OIDC_ROLES,
            loginClaim: data.OIDC_LOGIN_CLAIM ?? null,
          },
    statements:
      data.XAPI_URL === undefined
        ? null
        : {
            url: data.XAPI_URL,
            credentials: data.XAPI_CREDENTIALS ?? null,
            base: publicUrl ?? 'http://localhost',
          },
  };
}
