import { Router } from 'express';
import * as z from 'zod';
import { Problem } from '@pocket-twin/core/schema/problem.ts';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import type { Endpoint } from '@pocket-twin/core/contract/endpoint.ts';
import { answer } from './answer.ts';

const ENDPOINTS: Endpoint[] = Object.values(CONTRACT);

type Json = Record<string, unknown>;

/** The interface as OpenAPI 3.1, made from the schemas that the routes check with. */
function openApi(): Json {
  const paths: Record<string, Json> = {};
  for (const endpoint of ENDPOINTS) {
    const path = `/api${endpoint.path.replace(/:(\w+)/g, '{$1}')}`;
    (paths[path] ??= {})[endpoint.method] = operation(endpoint);
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Pocket Twin',
      version: '1',
      description:
        'Everything the interface does. Files come up by tus 1.0 at /api/uploads with the metadata filename, projectId, folder and id (a UUID of the sender’s: asked for again, it is the same upload, and its clip’s id).',
    },
    components: {
      securitySchemes: {
        startToken: {
          type: 'http',
          scheme: 'bearer',
          description: 'The token in the address that npm start prints. Browsers have it as a cookie.',
        },
      },
    },
    security: [{ startToken: [] }],
    paths,
  };
}

function operation({ path, summary, query, body, answer: answered, status = 200 }: Endpoint): Json {
  const problem = {
    description: 'What is wrong, in a sentence (RFC 9457)',
    content: { 'application/problem+json': { schema: schemaOf(Problem) } },
  };
  return {
    summary,
    parameters: [
      ...[...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
        name,
        in: 'path',
        required: true,
        schema: { type: 'string' },
      })),
      ...(query ? queryParameters(query) : []),
    ],
    ...(body && {
      requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body, 'input') } } },
    }),
    responses: {
      [status]: { description: answered ? 'Done' : 'Done; there is nothing to say', ...content(answered) },
      default: problem,
    },
  };
}

function content(answered: Endpoint['answer']): Json {
  if (!answered) return {};
  return {
    content: typeof answered === 'string' ? { [answered]: {} } : { 'application/json': { schema: schemaOf(answered) } },
  };
}

function queryParameters(query: z.ZodType): Json[] {
  const { properties = {}, required = [] } = schemaOf(query, 'input') as {
    properties?: Record<string, Json>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
}

function schemaOf(schema: z.ZodType, io: 'input' | 'output' = 'output'): Json {
  const described: Json = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
  // OpenAPI names its dialect once, for all.
  delete described.$schema;
  return described;
}

/** The description for machines, and the same as a plain page. */
export function openApiRoutes(): Router {
  const routes = Router();
  const description = openApi();
  answer(routes, CONTRACT.openApi, (_question, { response }) => {
    response.json(description);
  });
  answer(routes, CONTRACT.docs, (_question, { response }) => {
    response.type('html').send(docsPage(response.locals.nonce as string));
  });
  return routes;
}

function docsPage(nonce: string): string {
  const rows = ENDPOINTS.map(
    ({ method, path, summary, query, body, answer, status = 200 }) => `
    <article><h2><code>${method.toUpperCase()} /api${path}</code></h2><p>${summary}.</p>
    ${detail('Query', query)}${detail('Body', body)}${typeof answer === 'string' ? `<p>Answers ${status} with <code>${answer}</code>.</p>` : answer ? detail(`Answers ${status}`, answer) : `<p>Answers ${status}.</p>`}</article>`,
  );
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Pocket Twin: HTTP interface</title>
    <style nonce="${nonce}">body{font:15px/1.5 sans-serif;max-width:860px;margin:2rem auto;padding:0 1rem;color:#24222c;background:#f5f2eb}
    h2{font-size:1rem;margin:1.6rem 0 .2rem}p{margin:.2rem 0}pre{background:#fffdf8;border:1px solid #ddd6c8;border-radius:9px;padding:.7rem;overflow:auto}</style>
    <h1>HTTP interface</h1><p>Only this machine is answered. Everything is JSON unless it says otherwise; times are seconds, levels decibels. An error is
    <code>application/problem+json</code> (RFC 9457), its <code>title</code> a sentence for people. Files come up by tus 1.0 at <code>/api/uploads</code>.
    The same as <a href="/api/openapi.json">OpenAPI 3.1</a>.</p>${rows.join('')}</html>`;
}

function detail(title: string, schema: z.ZodType | undefined): string {
  if (!schema) return '';
  const text = JSON.stringify(schemaOf(schema), null, 2).replaceAll('&', '&amp;').replaceAll('<', '&lt;');
  return `<details><summary>${title}</summary><pre>${text}</pre></details>`;
}
