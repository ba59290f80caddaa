import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { newId } from "../kit/ids";
import { underWay } from "../kit/settled";
import { askedSinceWrites } from "./answered";
import { Away } from "./away";
import { inTurn } from "./turns";
import { text } from "../text";

type Schemas = components["schemas"];
export type Project = Schemas["ProjectOut"];
export type Ruler = Project["set"]["ruler"];
export type Card = Schemas["ProjectCard"];
export type ShotRow = Schemas["ShotOut"];
/** A shot as a change left it, with all that goes by it. */
export type Written = Schemas["WrittenOut"];
export type Shot = Schemas["Shot"];
export type ShotPatch = Schemas["ShotPatch"];
export type Back = Schemas["Back"];
export type Sheet = Schemas["Sheet"];
export type Outlines = Schemas["Outlines"];
export type Drawing = Schemas["Drawing"];
export type Plan = Schemas["PlanOut"];
export type PairFocus = Schemas["FocusPair"];
export type PrintRow = Schemas["PrintOut"];
export type Scout = Schemas["Scout"];
export type LiveQuestion = Schemas["LiveQuestion"];
export type LiveAnswer = Schemas["LiveAnswer"];
export type ShotAnswer = Schemas["ShotAnswer"];
export type BeyondAnswer = Schemas["BeyondAnswer"];
export type ScoutAnswer = Schemas["ScoutAnswer"];
export type WhatIfAnswer = Schemas["WhatIfAnswer"];
export type ShotGesture = NonNullable<Schemas["AskShot"]["gesture"]>;
export type ViewGesture = NonNullable<Schemas["AskScout"]["gesture"]>;
export type Offer = Schemas["Offer"];
export type NewShot = Schemas["NewShot"];
export type StandInMove = Schemas["StandInMove"];
export type StandIn = Project["stand_ins"][number];
export type Leftover = Schemas["LeftoverOut"];
export type Suggestion = Schemas["SuggestionOut"];
export type CopyGroup = Schemas["CopyChange"]["groups"][number];
export type SectionCut = Schemas["SectionOut"];
export type Snap = Schemas["SnapOut"];
export type PlacingChange = Partial<Omit<Schemas["PlacingChange"], "version">>;

export const http = createClient<paths>({ baseUrl: window.location.origin });

/** The answer's data, or an error with the server's own words. */
export async function answerOf<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got;
  try {
    got = await answer.finally(underWay());
  } catch {
    throw new Away(text.server.theServerDoesNotAnswer);
  }
  if (got.error !== undefined || !got.response.ok) {
    const detail = (got.error as { detail?: unknown } | undefined)?.detail;
    if (got.response.status === 503) {
      const seconds = Number(got.response.headers.get("Retry-After"));
      throw new Away(
        typeof detail === "string" ? detail : text.server.theServerIsBusy,
        seconds ? seconds * 1000 : null,
      );
    }
    throw new Error(typeof detail === "string" ? detail : text.everywhere.theServerAnswered(got.response.status));
  }
  return got.data as T;
}

export const homeKey = ["home"] as const;
export const printsKey = (id: string) => ["prints", id] as const;
export const projectKey = (id: string) => ["project", id] as const;

/** What the instruments choose from: formats, stops, sizes, guides. The same for every shot, asked for once. */
export const useOffered = () =>
  useQuery({
    queryKey: ["offer"],
    queryFn: async () => (await answerOf(http.GET("/api/offer"))) as Offer,
    staleTime: Infinity,
    gcTime: Infinity,
  });

/** The same in an instrument: a project opens only when it is there. */
export function useOffer(): Offer {
  const { data } = useOffered();
  if (!data) throw new Error("an instrument was opened before its lists came");
  return data;
}

/** The sheet of a shot that is not on the desk; null while none is asked for. */
export function useSheetOf(row: ShotRow | null): Sheet | null {
  const asked = useQuery({
    queryKey: ["sheet", row?.id, row?.version],
    enabled: row !== null,
    staleTime: Infinity,
    queryFn: async () => (await answerOf(http.POST("/api/solve", { body: row!.shot }))) as Sheet,
  });
  return asked.data ?? null;
}

/** The faces a shot that is not on the desk closes the set with where it opens it; null where it does not. */
export function useCapOf(row: ShotRow | null, project: Project): Schemas["CapSheet"] | null {
  const asked = useQuery({
    queryKey: ["cap", row?.id, row?.version, standing(project)],
    enabled: row?.shot.lens.cutting_plane != null,
    staleTime: Infinity,
    queryFn: async () =>
      (await answerOf(http.GET("/api/shots/{key}/cap", { params: { path: { key: row!.id } } }))) as
        Schemas["CapSheet"] | null,
  });
  return asked.data ?? null;
}

export const useHome = () => useQuery({ queryKey: homeKey, queryFn: () => answerOf(http.GET("/api/projects")) });

export const useProject = (id: string) =>
  useQuery({
    queryKey: projectKey(id),
    queryFn: async () =>
      (await askedSinceWrites(id, () =>
        answerOf(http.GET("/api/projects/{key}", { params: { path: { key: id } } })),
      )) as Project,
    retry: (_, error) => error instanceof Away,
  });

/** What sheets go by of a project beside how its set stands: what places are called, where north lies, its primes. */
export const surroundings = ({ places, site, kept }: Project): string =>
  JSON.stringify([places, site, kept.primes, kept.prime_sets]);

/** All that what is drawn of a set depends on: another word for each other state of it. */
export const standing = (project: Project): string =>
  JSON.stringify([
    project.set.revision,
    project.set.placing,
    project.stand_ins,
    project.lifted,
    project.lifted_above,
    project.plan_height,
  ]);

/**
 * A section anywhere, from a place in plan along a heading counted from straight up: its cut first, then its thin
 * lines.
 */
export function useSection(project: Project, line: { x: number; y: number; heading: number }) {
  const key = ["section", project.id, standing(project), line.x, line.y, line.heading];
  const ask = (thin: boolean) => async () =>
    (await answerOf(
      http.GET("/api/projects/{key}/section", { params: { path: { key: project.id }, query: { ...line, thin } } }),
    )) as SectionCut;
  const cut = useQuery({
    queryKey: [...key, "cut"],
    queryFn: ask(false),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const whole = useQuery({ queryKey: [...key, "whole"], queryFn: ask(true), staleTime: Infinity });
  return whole.data ? whole : cut;
}

/** The set seen from the south, line by line. */
export const useElevation = (project: Project) =>
  useQuery({
    queryKey: ["elevation", project.id, project.set.revision, project.set.placing, project.stand_ins],
    queryFn: () => answerOf(http.GET("/api/projects/{key}/elevation", { params: { path: { key: project.id } } })),
    staleTime: Infinity,
  });

/** Where all shots of a list stand and look, as one word: written once a list, of which there may be a thousand. */
const stands = new WeakMap<ShotRow[], string>();
function standsOf(shots: ShotRow[]): string {
  const known = stands.get(shots);
  if (known !== undefined) return known;
  const written = JSON.stringify(shots.map(({ id, shot: { stand } }) => [id, stand.position, stand.aim]));
  stands.set(shots, written);
  return written;
}

const marksKey = (project: Project, shot: string | undefined) =>
  ["section-marks", project.id, shot, standsOf(project.shots), project.stand_ins] as const;

/** Other shots and stand-ins near the section of a shot. */
export const useSectionMarks = (project: Project, row: ShotRow | null) =>
  useQuery({
    queryKey: marksKey(project, row?.id),
    staleTime: Infinity,
    queryFn: async () =>
      (await answerOf(
        http.GET("/api/projects/{key}/section/marks", {
          params: { path: { key: project.id }, query: { shot: row?.id ?? "" } },
        }),
      )) as Schemas["SectionMarks"],
    enabled: project.shots.some((shot) => shot.id === row?.id),
    placeholderData: (before) => before,
  });

/** Levels and rooms that are clear in the geometry; asked for where a project has none. */
export const useProposal = (project: Project) =>
  useQuery({
    queryKey: ["proposal", project.id, project.set.revision, project.set.placing],
    queryFn: async () =>
      (await answerOf(
        http.GET("/api/projects/{key}/places/proposal", { params: { path: { key: project.id } } }),
      )) as Project["places"],
    staleTime: Infinity,
    enabled: project.places.levels.length === 0,
  });

export const useLeftovers = (project: Project, on: boolean) =>
  useQuery({
    queryKey: ["leftovers", project.id, project.set.revision, project.set.placing, project.places, project.stand_ins],
    queryFn: async () =>
      (await answerOf(http.GET("/api/projects/{key}/leftovers", { params: { path: { key: project.id } } }))) as {
        found: Leftover[];
      },
    staleTime: Infinity,
    enabled: on,
  });

/** Where lines of equal blur in a shot's picture are told by a number; asked for only where such lines are shown. */
export function useBlurLabels(project: Project, row: ShotRow, shown: boolean) {
  return useQuery({
    queryKey: ["softness", row.id, row.version, standing(project)],
    enabled: shown,
    staleTime: Infinity,
    queryFn: () => answerOf(http.GET("/api/shots/{key}/softness", { params: { path: { key: row.id } } })),
  }).data;
}

/** The plan: its cut as soon as it is there, its thin lines when they are worked out. */
export function usePlan(project: Project) {
  const key = ["plan", project.id, standing(project)];
  const ask = (thin: boolean) => () =>
    answerOf(
      http.GET("/api/projects/{key}/plan", {
        params: { path: { key: project.id }, query: { height: project.plan_height, thin } },
      }),
    );
  const cut = useQuery({ queryKey: [...key, "cut"], queryFn: ask(false), staleTime: Infinity });
  const whole = useQuery({ queryKey: [...key, "whole"], queryFn: ask(true), staleTime: Infinity });
  return whole.data ? whole : cut;
}

/** Ask for a project anew and wait for it: before going to something that was just made. */
export function useFresh(projectId: string): () => Promise<void> {
  const cache = useQueryClient();
  return () => cache.refetchQueries({ queryKey: projectKey(projectId) });
}

/**
 * The prints of a project, newest first; they are other far more often than it is, and many. Undefined until they are
 * there.
 */
export const usePrints = (projectId: string): PrintRow[] | undefined =>
  useQuery({
    queryKey: printsKey(projectId),
    staleTime: Infinity,
    queryFn: async () =>
      (await answerOf(http.GET("/api/projects/{key}/prints", { params: { path: { key: projectId } } })))
        .prints as PrintRow[],
  }).data;

/**
 * Put away what a change of a shot left: nothing of it is asked for again. Gives the newest row there is: somebody else
 * may have written meanwhile.
 */
export function putAway(cache: QueryClient, projectId: string, written: Written): ShotRow {
  const { prints, section, history, ...rest } = written;
  const row: ShotRow & Partial<Written> = rest;
  delete row.sheet;
  delete row.short;
  const newer = cache.getQueryData<Project>(projectKey(projectId))?.shots.find((one) => one.id === row.id);
  if (newer && newer.version > row.version) return newer;
  const own = new Map((prints as PrintRow[]).map((one) => [one.id, one]));
  cache.setQueryData<Project>(
    projectKey(projectId),
    (old) => old && { ...old, ...history, shots: old.shots.map((one) => (one.id === row.id ? row : one)) },
  );
  // Of a print no more than goes by its shot: how far it is may have been heard of since.
  cache.setQueryData<PrintRow[]>(printsKey(projectId), (old) =>
    old?.map((one) => {
      const left = own.get(one.id);
      return left ? { ...one, stale: left.stale, take: left.take } : one;
    }),
  );
  const project = cache.getQueryData<Project>(projectKey(projectId));
  if (project && section) cache.setQueryData(marksKey(project, row.id), section);
  return row;
}

/**
 * A proof of a shot, or of one of its crops, to be ordered: however often it is asked for until an answer comes, it is
 * one.
 */
export function proofOf(shot: string, crop: string | null = null, stacked = false): () => Promise<PrintRow> {
  const id = newId();
  return async () =>
    (await answerOf(
      http.POST("/api/shots/{key}/proof", { params: { path: { key: shot } }, body: { id, crop, stacked } }),
    )) as PrintRow;
}

/** Something written in a project, made of the project as the write before left it. */
export type Write = (action: (now: Project) => Promise<unknown>) => void;

type Habits = Project["habits"];
/** Write habits of a project: some of them, or made of those that are kept by then. */
export type PutHabits = (change: Partial<Habits> | ((now: Habits) => Partial<Habits>)) => void;

type Kept = Project["kept"];
/** Write what a project keeps of its own, made of what it keeps by then, with words for undo. */
export type PutKept = (change: (now: Kept) => Partial<Kept>, label: string) => void;

/** The project as it is now, within a turn. */
export function projectNow(cache: QueryClient, id: string): Project {
  const now = cache.getQueryData<Project>(projectKey(id));
  if (!now) throw new Error(text.server.theProjectIsNotOpen);
  return now;
}

/** The row of a shot as it is now. */
export function shotIn(now: Project, id: string): ShotRow {
  const row = now.shots.find((shot) => shot.id === id);
  if (!row) throw new Error(text.server.thatShotIsNotThereAnyMore);
  return row;
}

/** A write in a project, in its turn: runs it, says what went wrong, and asks for the project anew either way. */
export function useWrite(projectId: string, say: (trouble: string) => void) {
  const cache = useQueryClient();
  const key = projectKey(projectId);
  return useMutation({
    mutationFn: (write: (now: Project) => Promise<unknown>) =>
      inTurn(
        projectId,
        async () => {
          const now = projectNow(cache, projectId);
          try {
            return await write(now);
          } finally {
            await cache.invalidateQueries({ queryKey: key });
          }
        },
        () => cache.refetchQueries({ queryKey: key }),
      ),
    onError: (error: Error) => say(error.message),
  });
}
