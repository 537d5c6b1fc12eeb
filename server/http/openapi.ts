import type { TSchema } from 'typebox';
import { ErrorBody } from '../../contract/api/common.ts';
import type { Route } from './route.ts';

type Json = Record<string, unknown>;

/** The API's description, from the schemas that also validate it. */
export function openApi(routes: readonly Route[]): Json {
  const paths: Record<string, Json> = {};
  for (const route of routes) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method]: operation(route) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Yellow Spool',
      version: '0.1.0',
      description: 'Jobs, runs and printers of a wide-format print shop. Lengths in mm, instants in ms.',
    },
    paths,
    components: { schemas: { Error: ErrorBody } },
  };
}

/** One route as OpenAPI describes it. Parameters of the path are all text there; what they must be, the handler says. */
function operation(route: Route): Json {
  const inPath = [...route.path.matchAll(/:(\w+)/g)].map((match) => ({
    name: match[1],
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const inQuery = Object.entries((route.query?.properties ?? {}) as Record<string, TSchema>).map(([name, schema]) => ({
    name,
    in: 'query',
    required:
      (route.query?.required as readonly string[] | undefined)?.includes(name) === true && !('default' in schema),
    schema,
  }));
  const content: Json | undefined = route.body
    ? { 'application/json': { schema: route.body } }
    : route.multipart && { 'multipart/form-data': { schema: route.multipart } };
  const type = route.produces ?? 'application/json';
  return {
    summary: route.summary,
    'x-needs': route.needs,
    ...(route.inPerson ? { 'x-in-person': true } : {}),
    parameters: [...inPath, ...inQuery],
    ...(content ? { requestBody: { required: true, content } } : {}),
    responses: {
      [String(route.status ?? 200)]: {
        description: route.summary,
        content: { [type]: route.answer ? { schema: route.answer } : {} },
      },
      default: {
        description: 'What is wrong, with its figures, and the nearest way out',
        content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
      },
    },
  };
}
