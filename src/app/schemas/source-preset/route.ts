import { jsonSchema } from '@/app/api/v1/json_schema';
import { sourceFileSchema } from '@/core/sources/schema';

/** The form of a source preset as a file, for whoever writes one: JSON Schema 2020-12, made from what it is checked with. */
export function GET(request: Request): Response {
  return Response.json(
    {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      $id: new URL('/schemas/source-preset', request.url).href,
      title: 'Brivet source preset',
      ...jsonSchema(sourceFileSchema),
    },
    { headers: { 'Content-Type': 'application/schema+json' } },
  );
}
