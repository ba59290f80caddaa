import { useQuery } from "@tanstack/react-query";
import { http, type Project, answerOf } from "./client";
import type { components } from "./schema";
import { text } from "../text";

type Schemas = components["schemas"];
export type CameraKind = Schemas["CameraKind"];
export type CamerasCame = Schemas["CamerasCame"];
export interface World {
  unit: "m" | "cm" | "mm" | "in" | "ft";
  up: "y" | "z";
  own: boolean;
}

export const useCameraKinds = () =>
  useQuery({
    queryKey: ["camera-kinds"],
    staleTime: Infinity,
    queryFn: async () => (await answerOf(http.GET("/api/cameras/kinds"))).kinds,
  }).data;

/** Chosen shots as an address names them: by themselves, or by the fewer that are left out. */
function named(project: Project, chosen: string[]): { shot?: string[]; but?: string[] } {
  const left = project.shots.map(({ id }) => id).filter((id) => !chosen.includes(id));
  return left.length < chosen.length ? { but: left } : { shot: chosen };
}

/** What a kind of file will not tell another program of the shots. */
export const useNotSaid = (project: Project, ending: string, shots: string[]) =>
  useQuery({
    queryKey: ["not-said", project.id, project.shots.map((s) => s.version), ending, shots],
    enabled: shots.length > 0,
    queryFn: async () =>
      (
        await answerOf(
          http.GET("/api/projects/{key}/cameras/not-said", {
            params: { path: { key: project.id }, query: { ending, ...named(project, shots) } },
          }),
        )
      ).words,
  }).data;

/** Where the shots are to be had as a file. */
export const camerasFile = (
  project: Project,
  ending: string,
  shots: string[],
  world: World,
  withSet: boolean,
): string =>
  `/api/projects/${project.id}/cameras/file?${new URLSearchParams([["ending", ending], ["with_set", String(withSet)], ["unit", world.unit], ["up", world.up], ["own", String(world.own)], ...Object.entries(named(project, shots)).flatMap(([how, ids]) => ids.map((id) => [how, id]))] as string[][])}`;

/** Cameras of the model that was brought in as shots, or only what that would change. */
export const bringInOfSet = async (project: string, only_try: boolean) =>
  (await answerOf(
    http.POST("/api/projects/{key}/cameras/of-set", { params: { path: { key: project }, query: { only_try } } }),
  )) as CamerasCame;

/** Cameras of a file as shots, or only what that would change. */
export async function bringIn(project: string, file: File, world: World, onlyTry: boolean): Promise<CamerasCame> {
  const query = new URLSearchParams({
    name: file.name,
    unit: world.unit,
    up: world.up,
    own: String(world.own),
    only_try: String(onlyTry),
  });
  const answer = await fetch(`/api/projects/${project}/cameras?${query}`, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: file,
  });
  const got = (await answer.json()) as CamerasCame & { detail?: string };
  if (!answer.ok) throw new Error(got.detail ?? text.everywhere.theServerAnswered(answer.status));
  return got;
}
