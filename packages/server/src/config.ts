import { z } from 'zod';

const schema = z.object({
  DATABASE_URL: z.string().min(1),
  PORT: z.coerce.number().int().min(0).max(65535).default(4180),
  SESSION_SECRET: z.string().min(16),
  WEB_ROOT: z.string().optional(),
  EXERCISES: z.string().min(1),
  LOG_LEVEL: z.enum(['silent', 'error', 'warn', 'info']).default('warn'),
  MARKING_THREADS: z.coerce.number().int().min(1).max(16).default(1),
  SIGN_IN_LIMIT: z.coerce.number().int().min(1).default(10),
});

/** What the process is told by its environment. */
export interface Config {
  readonly databaseUrl: string;
  readonly port: number;
  readonly sessionSecret: string;
  /** Folder of the built browser application; none serves the interface alone. */
  readonly webRoot: string | undefined;
  /** Folder of the shipped exercises. */
  readonly exercises: string;
  readonly logLevel: 'silent' | 'error' | 'warn' | 'info';
  readonly markingThreads: number;
  /** Failed sign-ins a minute for one name from one address. */
  readonly signInLimit: number;
}

export function readConfig(env: NodeJS.ProcessEnv): Config {
  const read = schema.safeParse(env);
  if (!read.success) throw new Error(read.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; '));
  const { data } = read;
  return {
    databaseUrl: data.DATABASE_URL,
    port: data.PORT,
    sessionSecret: data.SESSION_SECRET,
    webRoot: data.WEB_ROOT,
    exercises: data.EXERCISES,
    logLevel: data.LOG_LEVEL,
    markingThreads: data.MARKING_THREADS,
    signInLimit: data.SIGN_IN_LIMIT,
  };
}
