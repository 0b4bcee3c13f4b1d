import { z } from 'zod';

const Environment = z.object({
  DATABASE_URL: z.url({ protocol: /^postgres(ql)?$/ }),
  PORT: z.coerce.number().int().min(0).max(65535).default(4600),
  HOST: z.string().default('127.0.0.1'),
  TODAY: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}$/, 'TODAY must be a date such as 2026-11-20')
    .optional(),
  TRUST_PROXY: z.coerce.number().int().min(0).max(5).default(0),
  TLS_CERT: z.string().optional(),
  TLS_KEY: z.string().optional(),
  MILEMARK_DEMO: z.enum(['0', '1']).default('0'),
  MILEMARK_VEHICLES: z.coerce.number().int().min(1).max(20_000).default(60),
  MILEMARK_WEB: z.string().optional(),
  MILEMARK_ROLE: z.enum(['all', 'web', 'worker']).default('all'),
  FEED_URL: z.url({ protocol: /^https?$/ }).optional(),
  SUPPLIER_URL: z.url({ protocol: /^https?$/ }).optional(),
  MAIL_URL: z.url({ protocol: /^https?$/ }).optional(),
  LOG_LEVEL: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('warn'),
});

export interface Config {
  databaseUrl: string;
  port: number;
  host: string;
  /** Fixed date, where one is asked for. */
  today: string | undefined;
  tls: { certFile: string; keyFile: string } | undefined;
  /** So many proxies stand before it, the outermost of which speaks TLS. */
  trustProxy: number;
  /** What the process does: answers, does the jobs, or both. */
  role: 'all' | 'web' | 'worker';
  demo: boolean;
  vehicles: number;
  /** Where the telematics service is, where there is one. */
  feedUrl: string | undefined;
  /** Where orders of parts go, where somebody takes them over the wire. */
  supplierUrl: string | undefined;
  /** Where mails go, where a service takes them. */
  mailUrl: string | undefined;
  /** Folder of the built interface. */
  webFolder: string | undefined;
  logLevel: string;
}

/** Reads the configuration from the environment; throws with the name of the variable that is wrong. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const parsed = Environment.safeParse(environment);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw new Error(`${issue?.path.join('.') ?? 'environment'}: ${issue?.message ?? 'is wrong'}`);
  }
  const { TLS_CERT, TLS_KEY } = parsed.data;
  if ((TLS_CERT === undefined) !== (TLS_KEY === undefined)) throw new Error('TLS_CERT and TLS_KEY go together.');
  return {
    databaseUrl: parsed.data.DATABASE_URL,
    port: parsed.data.PORT,
    host: parsed.data.HOST,
    today: parsed.data.TODAY,
    trustProxy: parsed.data.TRUST_PROXY,
    tls: TLS_CERT && TLS_KEY ? { certFile: TLS_CERT, keyFile: TLS_KEY } : undefined,
    role: parsed.data.MILEMARK_ROLE,
    demo: parsed.data.MILEMARK_DEMO === '1',
    vehicles: parsed.data.MILEMARK_VEHICLES,
    feedUrl: parsed.data.FEED_URL,
    supplierUrl: parsed.data.SUPPLIER_URL,
    mailUrl: parsed.data.MAIL_URL,
    webFolder: parsed.data.MILEMARK_WEB,
    logLevel: parsed.data.LOG_LEVEL,
  };
}
