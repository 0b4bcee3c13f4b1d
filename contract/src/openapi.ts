import { OpenApiGeneratorV31, OpenAPIRegistry } from '@asteasolutions/zod-to-openapi';
import { z } from 'zod';
import { Problem } from './common.ts';
import { callersOf, type Endpoint } from './endpoint.ts';
import { ENDPOINTS } from './endpoints.ts';

/** The OpenAPI 3.1 description of the API, made from the list of endpoints. */
export function openApiDocument(version: string): Record<string, unknown> {
  const registry = new OpenAPIRegistry();
  const { $schema: _dialect, ...problem } = z.toJSONSchema(Problem);
  registry.registerComponent('responses', 'Refused', {
    description: 'Refused: problem details (RFC 9457) naming the field and what would be accepted',
    content: { 'application/problem+json': { schema: problem as object } },
  });
  for (const [name, endpoint] of Object.entries<Endpoint>(ENDPOINTS)) {
    const { method, path, summary, params, query, body, response, status, contentType } = endpoint;
    const callers = callersOf(endpoint);
    registry.registerPath({
      method,
      path,
      operationId: name,
      summary,
      description: callers ? `May be called by: ${callers.join(', ')}.` : 'Anyone may call this.',
      request: {
        ...(params ? { params: params as never } : {}),
        ...(query ? { query: query as never } : {}),
        ...(body ? { body: { required: true, content: { 'application/json': { schema: body } } } } : {}),
      },
      responses: {
        [status]: {
          description: 'Done',
          ...(status === 204 ? {} : { content: { [contentType ?? 'application/json']: { schema: response } } }),
        },
        '4XX': { $ref: '#/components/responses/Refused' },
      },
    });
  }
  const document = new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: {
      title: 'Mile Mark',
      version,
      description:
        'Readings in, mile mark out. Sign in with POST /api/session; the cookie it sets goes with every call.',
    },
  });
  return document as unknown as Record<string, unknown>;
}
