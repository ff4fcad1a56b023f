import type { Response, Router } from 'express';
import type { AnswerOf, Endpoint, Question } from '@pocket-twin/core/contract/endpoint.ts';
import { parse } from './problems.ts';

/** How an answer goes out where it is not simply its JSON. */
export interface Reply {
  /** The endpoint's, unless set. */
  status: number;
  /** For answers that are no JSON: whoever acts sends them. */
  response: Response;
}

/**
 * Answers an endpoint of the contract: what is asked is checked by its schemas, what comes back goes out by its status.
 * @param act one thing that is done or looked up
 */
export function answer<One extends Endpoint>(
  routes: Router,
  endpoint: One,
  act: (question: Question<One>, reply: Reply) => Promise<AnswerOf<One>> | AnswerOf<One>,
): void {
  const { method, path, query, body, status = 200 } = endpoint;
  routes[method](path, async (request, response) => {
    const question = {
      params: request.params,
      query: query && parse(query, request.query),
      body: body && parse(body, request.body ?? {}),
    } as Question<One>;
    const reply = { status, response };
    const answered = await act(question, reply);
    if (typeof endpoint.answer === 'string') return;
    response.status(reply.status);
    if (endpoint.answer) response.json(answered);
    else response.end();
  });
}
