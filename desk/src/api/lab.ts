import { useQuery } from "@tanstack/react-query";
import { newId } from "../kit/ids";
import { http, type PrintRow, type Project, answerOf } from "./client";
import type { components } from "./schema";
import { text } from "../text";

type Schemas = components["schemas"];
export type Lab = Schemas["LabOut"];
export type Order = Schemas["Order"];
export type OrderRow = Schemas["OrderOut"];
export type Expected = Schemas["OrderExpected"];
export type Wanted = Schemas["Wanted"];
export type Machine = Schemas["MachineOut"];
export type Documents = Schemas["Documents"];
export type DocumentsRow = Schemas["DocumentsOut"];
export type Whence = Schemas["WhenceOut"];

const LOOKS_EVERY_MS = 4000;
/** While documents are made, which takes seconds. */
const LOOKS_CLOSELY_MS = 1000;
const RECKONS_EVERY_MS = 20_000;
/** What a file tells of itself stands in its beginning. */
const BEGINNING_BYTES = 8_000_000;

export const labKey = (project: string) => ["lab", project] as const;

/** Orders, machines and what orders choose from; asked for again while it is looked at. */
export const useLab = (project: Project) =>
  useQuery({
    queryKey: labKey(project.id),
    refetchInterval: ({ state }) =>
      state.data?.documents.some((one) => one.state === "waiting" || one.state === "making")
        ? LOOKS_CLOSELY_MS
        : LOOKS_EVERY_MS,
    queryFn: async () =>
      (await answerOf(http.GET("/api/projects/{key}/lab", { params: { path: { key: project.id } } }))) as Lab,
  }).data;

/**
 * What an order comes to, as the shots are now; null where nothing is chosen, or what is asked for is refused. When it
 * is done goes by the clock.
 */
export function useExpected(project: Project, prints: PrintRow[], order: Order | null) {
  return useQuery({
    queryKey: [
      "expected",
      project.id,
      project.version,
      project.shots.map((s) => s.version),
      prints.map((p) => [p.id, p.state]),
      order,
    ],
    enabled: order !== null,
    placeholderData: (before) => before,
    retry: false,
    refetchInterval: RECKONS_EVERY_MS,
    queryFn: async () =>
      (await answerOf(
        http.POST("/api/projects/{key}/orders/expected", { params: { path: { key: project.id } }, body: order! }),
      )) as Expected,
  });
}

/** An order to be placed: however often it is asked for until an answer comes, it is one. */
export function orderOf(project: string, order: Order): () => Promise<OrderRow> {
  const id = newId();
  return async () =>
    (await answerOf(
      http.POST("/api/projects/{key}/orders", { params: { path: { key: project } }, body: { id, order } }),
    )) as OrderRow;
}

/** Documents to be asked for, once however often that is sent. */
export function documentsOf(project: string, documents: Documents): () => Promise<DocumentsRow> {
  const id = newId();
  return async () =>
    (await answerOf(
      http.POST("/api/projects/{key}/documents", { params: { path: { key: project } }, body: { id, documents } }),
    )) as DocumentsRow;
}

/** Where a picture's file came from, by what it tells of itself. */
export async function whenceOf(file: File): Promise<Whence> {
  const answer = await fetch("/api/whence", {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: file.slice(0, BEGINNING_BYTES),
  });
  const got = (await answer.json()) as Whence & { detail?: string };
  if (!answer.ok) throw new Error(got.detail ?? text.everywhere.theServerAnswered(answer.status));
  return got;
}
