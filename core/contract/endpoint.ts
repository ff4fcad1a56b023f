import type * as z from 'zod';

/** One thing the server answers: what is asked, what comes back. */
export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** Under /api; parts that vary as `:name`. */
  path: `/${string}`;
  summary: string;
  query?: z.ZodType;
  body?: z.ZodType;
  /** JSON by this schema, another kind of body by its media type, or nothing. */
  answer?: z.ZodType | string;
  status?: number;
}

/** Keeps what is known of an endpoint in its type. */
export function endpoint<const Known extends Endpoint>(known: Known): Known {
  return known;
}

type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

export type AnswerOf<One extends Endpoint> = One extends { answer: infer Answer extends z.ZodType }
  ? z.output<Answer>
  : void;
type OutputOf<Schema> = Schema extends z.ZodType ? z.output<Schema> : undefined;
/** What may be left out by who asks, in the types that it has once it is checked: a number in an address is text on the way only. */
type GivenOf<Schema> = Schema extends z.ZodType
  ? { [Key in keyof z.input<Schema>]: Key extends keyof z.output<Schema> ? z.output<Schema>[Key] : never }
  : unknown;

/** A question as the server has it, checked. */
export interface Question<One extends Endpoint> {
  /** The parts of the path that vary. */
  params: Record<NamesIn<One['path']>, string>;
  query: OutputOf<One['query']>;
  body: OutputOf<One['body']>;
}

type NamedParts<One extends Endpoint> = Record<NamesIn<One['path']>, string | number> &
  GivenOf<One['query']> &
  GivenOf<One['body']>;
type IsOne<Name extends string> = { [Each in Name]: [Name] extends [Each] ? true : false }[Name];

/** A question as a client asks it: everything by its name, wherever it goes; an id alone where that is all; or nothing. */
export type Asked<One extends Endpoint> = One extends { query: z.ZodType } | { body: z.ZodType }
  ? NamedParts<One>
  : [NamesIn<One['path']>] extends [never]
    ? void
    : IsOne<NamesIn<One['path']>> extends true
      ? string
      : NamedParts<One>;

/** Where a question goes. What the path does not name is the body's, or where there is none the query's. */
export function addressOf<One extends Endpoint>(
  endpoint: One,
  asked: Asked<One>,
): { url: string; method: string; params?: Record<string, unknown>; body?: Record<string, unknown> } {
  const { method, path, body }: Endpoint = endpoint;
  const rest = typeof asked === 'string' ? {} : { ...(asked as Record<string, unknown>) };
  const url = path.replace(/:(\w+)/g, (_, name: string) => {
    const value = typeof asked === 'string' ? asked : rest[name];
    delete rest[name];
    return encodeURIComponent(String(value));
  });
  return { url, method: method.toUpperCase(), ...(body ? { body: rest } : { params: rest }) };
}
