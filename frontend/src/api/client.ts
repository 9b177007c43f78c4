import createClient from "openapi-fetch";
import type { components, paths } from "../../generated/schema";

export { part, pointer } from "./pointer";

export type Schemas = components["schemas"];
export type DesignReply = Schemas["DesignReply"];
export type Evaluation = Schemas["Evaluation"];
export type HarnessDocument = DesignReply["document"];
export type Wire = Schemas["Wire"];
export type Finding = Schemas["Finding"];
export type Problem = Schemas["ProblemDetails"];
export type Reckoning = Schemas["Reckoning"];
export type Catalogue = Schemas["CatalogueReply"];
export type CalculatorItem = Schemas["CalculatorItem"];
export type BenchAnswer = Schemas["BenchAnswerReply"];
export type ShelfItem = Schemas["ShelfItem"];
export type Operation = { op: "add" | "replace" | "remove" | "copy"; path: string; from?: string; value?: unknown };
export type ReckoningKind = paths["/api/designs/{design_id}/reckoning"]["get"]["parameters"]["query"]["kind"];
export type ActName = Schemas["ActBody"]["act"];

// Every write says that it is JSON, with or without a body: no form of another page can.
export const client = createClient<paths>({
  baseUrl: window.location.origin,
  headers: { "Content-Type": "application/json" },
});

/** What went wrong, as the server says it; a plain sentence where it could not be reached. */
export class Refused extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

export function refusal(error: unknown): Refused {
  if (error instanceof Refused) return error;
  const found = error as Partial<Problem> | undefined;
  if (found && typeof found.detail === "string" && typeof found.title === "string") {
    return new Refused(found as Problem);
  }
  return new Refused({
    type: "about:blank",
    title: "Not reached",
    status: 0,
    detail: "The program does not answer. Is it still running? What you typed is kept.",
    errors: [],
  });
}

/** What came back; throws Refused, in words, where it was refused or nobody answered. */
export async function answered<T>(sent: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  let reply;
  try {
    reply = await sent;
  } catch (error) {
    throw refusal(error);
  }
  if (reply.data === undefined) throw refusal(reply.error);
  return reply.data;
}

/** What nobody answered is asked for again each second; what was refused is not. */
export function untilAnswered({ state }: { state: { error: unknown } }): number | false {
  return state.error instanceof Refused && state.error.problem.status === 0 ? 1000 : false;
}

/** Whether an edit was refused because another window was first. */
export function lost(problem: Problem | null): boolean {
  return problem?.status === 412;
}

/** A line of writes, each sent when the one before it is answered: a tick and its taking back arrive in the order
 *  they were meant, and of their answers the last is the newest. */
export function inTurn() {
  let before: Promise<unknown> = Promise.resolve();
  let count = 0;
  return {
    ask<T>(send: () => Promise<T>): Promise<T> {
      count += 1;
      const answer = before.then(send, send);
      const over = () => {
        count -= 1;
      };
      before = answer.then(over, over);
      return answer;
    },
    /** Whether more is on its way. */
    waiting: () => count > 0,
  };
}
