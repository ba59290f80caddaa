import { counted } from "./counted";

export const counts = {
  crop: (count: number) => counted(count, "crop", "crops"),
  picture: (count: number) => counted(count, "picture", "pictures"),
  probe: (count: number) => counted(count, "probe", "probes"),
  blade: (count: number) => counted(count, "blade", "blades"),
  part: (count: number) => counted(count, "part", "parts"),
  morePart: (count: number) => counted(count, "more part", "more parts"),
  thing: (count: number) => counted(count, "thing", "things"),
  triangle: (count: number) => counted(count, "triangle", "triangles"),
  shot: (count: number) => counted(count, "shot", "shots"),
  camera: (count: number) => counted(count, "camera", "cameras"),
  core: (count: number) => counted(count, "core", "cores"),
  print: (count: number) => counted(count, "print", "prints"),
  order: (count: number) => counted(count, "order", "orders"),
  size: (count: number) => counted(count, "size", "sizes"),
  tile: (count: number) => counted(count, "tile", "tiles"),
  level: (count: number) => counted(count, "level", "levels"),
  room: (count: number) => counted(count, "room", "rooms"),
  standIn: (count: number) => counted(count, "stand-in", "stand-ins"),
};
