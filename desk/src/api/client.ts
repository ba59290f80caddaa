import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Project = Schemas["ProjectOut"];
export type Card = Schemas["ProjectCard"];
export type ShotRow = Schemas["ShotOut"];
export type Shot = Schemas["Shot"];
export type Back = Schemas["Back"];
export type Sheet = Schemas["Sheet"];
export type Outlines = Schemas["Outlines"];
export type Drawing = Schemas["Drawing"];
export type Plan = Schemas["PlanOut"];
export type PrintRow = Schemas["PrintOut"];
export type Scout = Schemas["Scout"];
export type LiveQuestion = Schemas["LiveQuestion"];
export type LiveAnswer = Schemas["LiveAnswer"];
export type ShotAnswer = Schemas["ShotAnswer"];
export type BeyondAnswer = Schemas["BeyondAnswer"];
export type ScoutAnswer = Schemas["ScoutAnswer"];
export type ShotGesture = NonNullable<Schemas["AskShot"]["gesture"]>;
export type ViewGesture = NonNullable<Schemas["AskScout"]["gesture"]>;
export type Offer = Schemas["Offer"];
export type NewShot = Schemas["NewShot"];

export const http = createClient<paths>({ baseUrl: window.location.origin });

/** The answer's data, or an error with the server's own words. */
export async function told<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got;
  try {
    got = await answer;
  } catch {
    throw new Error("The server does not answer. It may have been stopped; start it again and nothing is lost.");
  }
  if (got.error !== undefined || !got.response.ok) {
    const detail = (got.error as { detail?: unknown } | undefined)?.detail;
    throw new Error(typeof detail === "string" ? detail : `The server answered ${got.response.status}.`);
  }
  return got.data as T;
}

export const homeKey = ["home"] as const;
export const projectKey = (id: string) => ["project", id] as const;

/** What the instruments choose from: formats, stops, sizes, guides. The same for every shot, asked for once. */
export const useOffered = () =>
  useQuery({ queryKey: ["offer"], queryFn: async () => (await told(http.GET("/api/offer"))) as Offer, staleTime: Infinity, gcTime: Infinity });

/** The same in an instrument: a project opens only when it is there. */
export function useOffer(): Offer {
  const { data } = useOffered();
  if (!data) throw new Error("an instrument was opened before its lists came");
  return data;
}

export const useHome = () => useQuery({ queryKey: homeKey, queryFn: () => told(http.GET("/api/projects")) });

export const useProject = (id: string) =>
  useQuery({
    queryKey: projectKey(id),
    queryFn: async () => (await told(http.GET("/api/projects/{key}", { params: { path: { key: id } } }))) as Project,
    retry: false,
  });

/** The plan: its cut as soon as it is there, its thin lines when they are worked out. */
export function usePlan(project: Project) {
  const key = ["plan", project.id, project.set.revision, project.lifted.join(","), project.plan_height];
  const ask = (thin: boolean) => () =>
    told(http.GET("/api/projects/{key}/plan", { params: { path: { key: project.id }, query: { height: project.plan_height, thin } } }));
  const cut = useQuery({ queryKey: [...key, "cut"], queryFn: ask(false), staleTime: Infinity });
  const whole = useQuery({ queryKey: [...key, "whole"], queryFn: ask(true), staleTime: Infinity });
  return whole.data ? whole : cut;
}

/** Ask for a project anew and wait for it: before going to something that was just made. */
export function useFresh(projectId: string): () => Promise<void> {
  const cache = useQueryClient();
  return () => cache.refetchQueries({ queryKey: projectKey(projectId) });
}

/** A write in a project: runs it, says what went wrong, and asks for the project anew either way. */
export function useWrite(projectId: string, say: (trouble: string) => void) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (write: () => Promise<unknown>) => write(),
    onError: (error: Error) => say(error.message),
    onSettled: () => cache.invalidateQueries({ queryKey: projectKey(projectId) }),
  });
}
