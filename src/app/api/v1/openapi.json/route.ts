import { currency } from '@/core/money/currency';
import { jsonSchema } from '../json_schema';
import { OPERATIONS, type Operation } from '../operations';

interface ObjectSchema {
  properties?: Record<string, object>;
  required?: string[];
}

function described({ path, summary, tag, query, body, created, method }: Operation): object {
  const parts = [...path.matchAll(/\{(\w+)\}/g)].map(([, name = '']) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: name === 'receipt' || name === 'job' ? 'string' : 'integer' },
  }));
  const { properties = {}, required = [] } = query ? (jsonSchema(query) as ObjectSchema) : {};
  const parameters = [
    ...parts,
    ...Object.entries(properties).map(([name, schema]) => ({
      name,
      in: 'query',
      required: required.includes(name),
      schema,
    })),
  ];
  const refused = { $ref: '#/components/responses/Problem' };
  return {
    operationId: `${method.toLowerCase()}${path
      .replace(/\{(\w+)\}/g, 'by/$1')
      .replace(/(^|[/-])(\w)/g, (_, __, letter: string) => letter.toUpperCase())
      .replaceAll('/', '')}`,
    summary,
    tags: [tag],
    ...(parameters.length > 0 && { parameters }),
    ...(body && {
      requestBody: { required: true, content: { 'application/json': { schema: jsonSchema(body(currency('EUR'))) } } },
    }),
    responses: {
      [created ? 201 : 200]: { description: 'Done', content: { 'application/json': {} } },
      401: refused,
      403: refused,
      404: refused,
      ...(method === 'GET' ? {} : { 409: refused }),
      422: refused,
    },
  };
}

/** The description of the API, made from the operations and their schemas. */
export function GET(): Response {
  const paths: Record<string, Record<string, object>> = {};
  for (const operation of OPERATIONS)
    paths[`/api/v1${operation.path}`] = {
      ...paths[`/api/v1${operation.path}`],
      [operation.method.toLowerCase()]: described(operation),
    };
  return Response.json({
    openapi: '3.1.0',
    info: {
      title: 'Brivet',
      version: '1',
      description:
        'Amounts that are sent are decimal text in the program’s currency; amounts that are returned are integers in its minor unit. Times are milliseconds since 1970, days are calendar days in the program’s time zone.',
    },
    security: [{ token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      responses: {
        Problem: {
          description: 'Problem details (RFC 9457)',
          content: {
            'application/problem+json': {
              schema: {
                type: 'object',
                required: ['title', 'status', 'detail'],
                properties: {
                  type: { type: 'string' },
                  title: { type: 'string' },
                  status: { type: 'integer' },
                  detail: { type: 'string' },
                  errors: {
                    type: 'array',
                    items: {
                      type: 'object',
                      required: ['field', 'reason'],
                      properties: { field: { type: 'string' }, reason: { type: 'string' } },
                    },
                  },
                },
              },
            },
          },
        },
      },
    },
  });
}
