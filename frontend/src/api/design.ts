import { keepPreviousData, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import {
  answered,
  client,
  refusal,
  untilAnswered,
  type ActName,
  type Catalogue,
  type DesignReply,
  type Operation,
  type Problem,
  type ReckoningKind,
  type ShelfItem,
  type Schemas,
  Refused,
} from "./client";
import { whole, type DesignChanges } from "./replies";

export function useCatalogue(): Catalogue | undefined {
  const { data } = useQuery({
    queryKey: ["catalogue"],
    staleTime: Infinity,
    queryFn: () => answered(client.GET("/api/catalogue")),
  });
  return data;
}

/** Whether the program has not come round yet to what the shelf shows of a harness. */
export function pending(item: ShelfItem): boolean {
  return item.tally === null && item.trouble === "";
}

export function useShelf() {
  return useQuery({
    queryKey: ["shelf"],
    queryFn: async () => (await answered(client.GET("/api/designs"))).designs,
    // What is still to be worked out comes with the next look.
    refetchInterval: ({ state }) => (state.data?.some(pending) ? 250 : untilAnswered({ state })),
  });
}

function designKey(id: string) {
  return ["design", id] as const;
}

export function useDesignQuery(id: string) {
  const cache = useQueryClient();
  return useQuery({
    queryKey: designKey(id),
    structuralSharing: false, // what stayed keeps its identity already
    queryFn: async () => {
      const held = cache.getQueryData<DesignReply>(designKey(id));
      const headers = held ? { "X-Holds": `"${held.etag}"` } : {};
      const sent = await answered(client.GET("/api/designs/{design_id}", { ...of(id), headers }));
      // An own edit may have come between: then all of it is asked for.
      const now = whole(sent, cache.getQueryData<DesignReply>(designKey(id)));
      return now ?? (whole(await answered(client.GET("/api/designs/{design_id}", of(id))), held) as DesignReply);
    },
  });
}

const ASKED_EACH_MS = 800;

/** Asks, while the window is seen, whether another one changed the harness, and fetches it then. What went wrong, if anything. */
export function useOthersEdits(id: string) {
  const cache = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ["version", id],
    refetchInterval: ASKED_EACH_MS,
    retry: false,
    queryFn: () => answered(client.GET("/api/designs/{design_id}/version", { params: { path: { design_id: id } } })),
  });
  useEffect(() => {
    const known = cache.getQueryData<DesignReply>(designKey(id));
    // Own edits on their way bring the newest with them.
    if (!data || !known || queues.has(id) || data.etag === known.etag) return;
    if (data.version >= known.version) void cache.invalidateQueries({ queryKey: designKey(id) });
  }, [cache, data, id]);
  return error;
}

/** Edits of one harness go one after another, each against the version before it. */
const queues = new Map<string, Promise<unknown>>();

function inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
  // With nothing before it an edit is sent at once, not after the screen is drawn.
  const before = queues.get(id);
  const next = before ? before.then(work, work) : work();
  const done: Promise<unknown> = next.then(
    () => undefined,
    () => undefined,
  );
  queues.set(id, done);
  void done.then(() => {
    if (queues.get(id) === done) queues.delete(id);
  });
  return next;
}

function beforeKey(id: string) {
  return ["before", id] as const;
}

/** The harness as it was before the last edit that this window saw, to say what that changed. */
export function useBefore(id: string, version: number | undefined): DesignReply | null {
  const before = useQueryClient().getQueryData<DesignReply>(beforeKey(id));
  return before !== undefined && version !== undefined && before.version < version ? before : null;
}

function keep(cache: QueryClient, reply: DesignReply) {
  const known = cache.getQueryData<DesignReply>(designKey(reply.id));
  if (known && known.version < reply.version) cache.setQueryData(beforeKey(reply.id), known);
  cache.setQueryData(designKey(reply.id), reply);
  void cache.invalidateQueries({ queryKey: ["shelf"], refetchType: "none" });
}

/** An edit on its way goes on when the page is closed; browsers allow that for small requests only. */
function outlives(body: unknown): boolean {
  return JSON.stringify(body).length < 20_000;
}

type Sent = { data?: DesignReply | DesignChanges; error?: unknown; response: Response };

async function settle(cache: QueryClient, sent: Promise<Sent>): Promise<Problem | null> {
  try {
    const { data, error, response } = await sent;
    if (data) {
      const reply = whole(data, cache.getQueryData<DesignReply>(designKey(data.id)));
      // Another window's edit came between: what was changed then is fetched with the rest.
      if (reply) keep(cache, reply);
      else await cache.invalidateQueries({ queryKey: designKey(data.id) });
      return null;
    }
    if (response.status === 412) {
      const current = (error as { current?: DesignReply }).current;
      if (current) keep(cache, whole(current, cache.getQueryData<DesignReply>(designKey(current.id))) ?? current);
    }
    return refusal(error).problem;
  } catch (error) {
    return refusal(error).problem;
  }
}

export type Edit = (operations: Operation[], label: string) => Promise<Problem | null>;

/** The harness that is open, as it stands. */
export interface OpenDesign {
  id: string;
  design: DesignReply;
  /** As it was before the last edit. */
  before: DesignReply | null;
}

/** What can be done to it; the same object from the first edit to the last. */
export interface Acts {
  /** Send one patch; null when done, else the problem, to be shown where it was typed. */
  edit: Edit;
  /** Send one patch that has no place for an error of its own: a refusal is said at the foot. */
  doIt: (operations: Operation[], label: string) => Promise<void>;
  /** Edits made inside go as one; where that is refused they go one by one, so that each says for itself. */
  together: (label: string, work: () => Promise<unknown>) => Promise<boolean>;
  act: (act: ActName, text: string, about?: string) => Promise<Problem | null>;
  /** An act on a thing, with no place for an error of its own. */
  actNow: (act: ActName, about: string) => Promise<void>;
  undo: () => Promise<Problem | null>;
  redo: () => Promise<Problem | null>;
}

/** The figure that is asked why, if one is. */
export interface Why {
  why: { kind: ReckoningKind; id: string } | null;
  askWhy: (kind: ReckoningKind, id: string) => void;
  closeWhy: () => void;
}

export const DesignContext = createContext<OpenDesign | null>(null);
export const ActsContext = createContext<Acts | null>(null);
export const WhyContext = createContext<Why | null>(null);

function opened<T>(what: T | null): T {
  if (what === null) throw new Error("No harness is open here.");
  return what;
}

export function useDesign(): OpenDesign {
  return opened(useContext(DesignContext));
}

export function useActs(): Acts {
  return opened(useContext(ActsContext));
}

export function useWhy(): Why {
  return opened(useContext(WhyContext));
}

/** Which reply this window holds: it is sent what is another since. */
type Holds = { "X-Holds": string };

/** Sends what changes a harness, after all that was sent before; null when it is done, else the problem. */
export function useSend(id: string) {
  const cache = useQueryClient();
  return useCallback(
    (ask: (path: { design_id: string }, etag: string, headers: Holds) => Promise<Sent>): Promise<Problem | null> =>
      inTurn(id, () => {
        const etag = `"${cache.getQueryData<DesignReply>(designKey(id))?.etag ?? "0"}"`;
        return settle(cache, ask({ design_id: id }, etag, { "X-Holds": etag }));
      }),
    [cache, id],
  );
}

export function useEdits(id: string) {
  const put = useSend(id);
  const cache = useQueryClient();
  const gathered = useRef<Operation[] | null>(null);
  const send = useCallback<Edit>(
    (operations, label) =>
      operations.length === 0
        ? Promise.resolve(null)
        : put((path, etag, headers) =>
            client.PATCH("/api/designs/{design_id}", {
              headers,
              params: { path, header: { "If-Match": etag, "X-Label": encodeURIComponent(label).slice(0, 150) } },
              body: operations,
              keepalive: outlives(operations),
            }),
          ),
    [put],
  );
  const edit = useCallback<Edit>(
    (operations, label) => {
      if (gathered.current === null) return send(operations, label);
      gathered.current.push(...operations);
      return Promise.resolve(null);
    },
    [send],
  );
  const together = useCallback(
    async (label: string, work: () => Promise<unknown>) => {
      const operations: Operation[] = [];
      gathered.current = operations;
      try {
        await work();
      } finally {
        gathered.current = null;
      }
      return (await send(operations, label)) === null;
    },
    [send],
  );
  return useMemo(
    () => ({
      edit,
      together,
      act: (name: ActName, text: string, about = "") =>
        put((path, _etag, headers) =>
          client.POST("/api/designs/{design_id}/acts", {
            headers,
            params: { path },
            body: { act: name, text, about },
            keepalive: outlives(text),
          }),
        ),
      undo: () =>
        put((path, etag, headers) =>
          client.POST("/api/designs/{design_id}/undo", { headers, params: { path, header: { "If-Match": etag } } }),
        ),
      /** What the edit that an undo would take back is called. */
      last: () => cache.getQueryData<DesignReply>(designKey(id))?.undo_label ?? null,
      redo: () =>
        put((path, etag, headers) =>
          client.POST("/api/designs/{design_id}/redo", { headers, params: { path, header: { "If-Match": etag } } }),
        ),
    }),
    [cache, edit, id, put, together],
  );
}

export function useReckoning(id: string, version: number, kind: ReckoningKind, figure: string) {
  return useQuery({
    queryKey: ["reckoning", id, version, kind, figure],
    placeholderData: (previous) => previous,
    retry: false,
    queryFn: async () =>
      (
        await answered(
          client.GET("/api/designs/{design_id}/reckoning", {
            params: { path: { design_id: id }, query: { kind, id: figure } },
          }),
        )
      ).reckoning,
  });
}

/** The library of devices: one of your own kept, taken out, put back. */
export function useLibrary() {
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async (sent: Promise<{ data?: Catalogue; error?: unknown }>): Promise<Problem | null> => {
      try {
        const { data, error } = await sent;
        if (!data) return refusal(error).problem;
        cache.setQueryData(["catalogue"], data);
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      keepKind: (body: { design_id: string; device: string; label: string; words: string }) =>
        done(client.POST("/api/shop/kinds", { body })),
      takeOut: (kind: string) =>
        done(client.DELETE("/api/shop/kinds/{kind_id}", { params: { path: { kind_id: kind } } })),
      putBack: (kind: string) =>
        done(client.POST("/api/shop/kinds/{kind_id}/restore", { params: { path: { kind_id: kind } } })),
    };
  }, [cache]);
}

type PasteBody = { text: string; meanings: string[] | null; headed: boolean | null };

/** A list out of a spreadsheet: looked at, then put in as one edit. */
export function usePaste() {
  const { id } = useDesign();
  const path = useMemo(() => ({ design_id: id }), [id]);
  const look = useCallback(
    async (body: PasteBody): Promise<{ plan: Schemas["PasteReply"] } | { problem: Problem }> => {
      try {
        const { data, error } = await client.POST("/api/designs/{design_id}/paste/look", { params: { path }, body });
        return data ? { plan: data } : { problem: refusal(error).problem };
      } catch (error) {
        return { problem: refusal(error).problem };
      }
    },
    [path],
  );
  const send = useSend(id);
  const put = useCallback(
    (body: PasteBody) => send((path) => client.POST("/api/designs/{design_id}/paste", { params: { path }, body })),
    [send],
  );
  return { look, put };
}

/** A harness as typed lines: looked at, and put in as one edit. */
export function useText() {
  const { id } = useDesign();
  const path = useMemo(() => ({ design_id: id }), [id]);
  const look = useCallback(
    (text: string): Promise<Schemas["TextLookReply"] | null> =>
      answered(client.POST("/api/designs/{design_id}/text/look", { params: { path }, body: { text } })).catch(
        () => null,
      ),
    [path],
  );
  const send = useSend(id);
  const put = useCallback(
    (text: string) => send((path) => client.PUT("/api/designs/{design_id}/text", { params: { path }, body: { text } })),
    [send],
  );
  return { look, put };
}

/** What is reckoned only when looked at: fetched by version, kept while the next is on its way. */
export function useStudy<T>(name: string, key: string, ask: (id: string) => Promise<{ data?: T; error?: unknown }>) {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: [name, id, design.version, key],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => answered(ask(id)),
  });
}

export const of = (id: string) => ({ params: { path: { design_id: id } } });

export function useLoads() {
  return useStudy("loads", "", (id) => client.GET("/api/designs/{design_id}/loads", of(id)));
}

export function useSchematic() {
  return useStudy("schematic", "", (id) => client.GET("/api/designs/{design_id}/schematic", of(id)));
}

type Underway = Schemas["UnderwayReply"];

/** What takes long is worked out beside the program: asked for again until it is there, with how far it is (0 to 1). */
export function useLongStudy<T>(
  name: string,
  key: string,
  ask: (id: string, signal: AbortSignal) => Promise<{ data?: T | Underway; error?: unknown; response: Response }>,
) {
  const { id, design } = useDesign();
  const [share, setShare] = useState(0);
  const query = useQuery({
    queryKey: [name, id, design.version, key],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => {
      setShare(0);
      for (;;) {
        const sent = ask(id, signal);
        const data = await answered(sent);
        if ((await sent).response.status !== 202) return data as T;
        setShare((data as Underway).share);
      }
    },
  });
  return { ...query, share };
}

export function useFamilies() {
  return useLongStudy<Schemas["FamiliesReply"]>("families", "", (id, signal) =>
    client.GET("/api/designs/{design_id}/families", { ...of(id), signal }),
  );
}

export function useFuture() {
  return useLongStudy<Schemas["FutureReply"]>("future", "", (id, signal) =>
    client.GET("/api/designs/{design_id}/future", { ...of(id), signal }),
  );
}

export function useHeadroom() {
  return useLongStudy<Schemas["HeadroomReply"]>("headroom", "", (id, signal) =>
    client.GET("/api/designs/{design_id}/headroom", { ...of(id), signal }),
  );
}

export function useThreading(circuit: string) {
  return useLongStudy<Schemas["ThreadingReply"]>("threading", circuit, (id, signal) =>
    client.GET("/api/designs/{design_id}/threading", {
      params: { path: { design_id: id }, query: { id: circuit } },
      signal,
    }),
  );
}

/** What else a relay, a fuse or a breaker may be made as. */
export function useAlternatives(device: string) {
  return useLongStudy<Schemas["AlternativesReply"]>("alternatives", device, (id, signal) =>
    client.GET("/api/designs/{design_id}/alternatives", {
      params: { path: { design_id: id }, query: { id: device } },
      signal,
    }),
  );
}

export function useCrossSection(branch: string) {
  return useStudy("section", branch, (id) =>
    client.GET("/api/designs/{design_id}/cross-section", {
      params: { path: { design_id: id }, query: { id: branch } },
    }),
  );
}

/** A design file goes as it is: what is wrong in it is said in the same words as on the command line. */
export async function openFile(file: Blob): Promise<DesignReply> {
  const { data, error } = await client.POST("/api/designs/file", {
    body: file as never,
    bodySerializer: (b) => b as unknown as Blob,
  });
  if (!data) throw refusal(error);
  return data;
}

export async function createDesign(body: {
  name?: string;
  practice?: DesignReply["document"]["brief"]["practice"];
  supply?: string;
  document?: Record<string, unknown>;
}): Promise<DesignReply> {
  const { data, error } = await client.POST("/api/designs", {
    body: {
      name: body.name ?? "",
      practice: body.practice ?? "motorsport",
      supply: body.supply ?? "",
      document: body.document ?? null,
    },
  });
  if (!data) throw refusal(error);
  return data;
}

export async function shelfAct(id: string, act: "duplicate" | "restore" | "remove" | "mend"): Promise<void> {
  const options = { params: { path: { design_id: id } } };
  const { error } =
    act === "remove"
      ? await client.DELETE("/api/designs/{design_id}", options)
      : act === "restore"
        ? await client.POST("/api/designs/{design_id}/restore", options)
        : act === "mend"
          ? await client.POST("/api/designs/{design_id}/mend", options)
          : await client.POST("/api/designs/{design_id}/duplicate", options);
  if (error) throw refusal(error);
}

export { Refused };
