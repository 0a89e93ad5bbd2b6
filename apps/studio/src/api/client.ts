import { ENTER_URL, OURS_HEADER, Problem, ROUTES, urlOf, type Route, type RouteName } from '@flimzy/contract';
import { z } from 'zod';

type Spec<N extends RouteName> = (typeof ROUTES)[N];
type In<S, K extends string> = S extends Record<K, infer Z extends z.ZodType> ? z.input<Z> : undefined;
type Out<S> = S extends { answer: infer Z extends z.ZodType } ? z.output<Z> : never;

/** What a call takes besides its route. */
export interface CallInput<N extends RouteName> {
  params?: In<Spec<N>, 'params'>;
  query?: In<Spec<N>, 'query'>;
  body?: In<Spec<N>, 'body'>;
}

/** The server said no, or could not be reached. The message is a sentence for people. */
export class CallFailed extends Error {
  override name = 'CallFailed';
  constructor(
    sentence: string,
    /** 0 when the server could not be reached: trying again later makes sense. */
    readonly status: number,
  ) {
    super(sentence);
  }
}

/** Calls a route of the contract and checks the answer. @throws CallFailed */
export async function call<N extends RouteName>(name: N, input: CallInput<N> = {}): Promise<Out<Spec<N>>> {
  const spec: Route = ROUTES[name];
  const { params, query, body } = input;
  const url = urlOf(
    spec,
    z.record(z.string(), z.string()).parse(params ?? {}),
    z.record(z.string(), z.union([z.string(), z.number()])).parse(query ?? {}),
  );
  const response = await fetch(url, {
    method: spec.method,
    headers: { [OURS_HEADER]: '1', ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  }).catch(() => {
    throw new CallFailed('The Flimzy server does not answer. What you do is kept here and sent when it is back.', 0);
  });
  // This device has not typed the access code, or another one was set: the page that asks for it comes first.
  if (response.status === 401) window.location.assign(ENTER_URL);
  if (!response.ok) {
    const problem = Problem.safeParse(await response.json().catch(() => null));
    throw new CallFailed(problem.success ? problem.data.detail : `The server answered ${response.status}.`, response.status);
  }
  return (spec.answer as z.ZodType<Out<Spec<N>>>).parse(await response.json());
}
