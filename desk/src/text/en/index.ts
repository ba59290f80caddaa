import { back } from "./back";
import { counts } from "./counts";
import { drawings } from "./drawings";
import { everywhere } from "./everywhere";
import { exposure } from "./exposure";
import { finder } from "./finder";
import { focus } from "./focus";
import { frame } from "./frame";
import { guides } from "./guides";
import { instruments } from "./instruments";
import { kit } from "./kit";
import { lab } from "./lab";
import { leftOut } from "./leftOut";
import { lens } from "./lens";
import { movements } from "./movements";
import { names } from "./names";
import { opening } from "./opening";
import { order } from "./order";
import { project } from "./project";
import { projects } from "./projects";
import { server } from "./server";
import { set } from "./set";
import { shots } from "./shots";
import { stand } from "./stand";

export const en = {
  back,
  counts,
  drawings,
  everywhere,
  exposure,
  finder,
  focus,
  frame,
  guides,
  instruments,
  kit,
  lab,
  leftOut,
  lens,
  movements,
  names,
  opening,
  order,
  project,
  projects,
  server,
  set,
  shots,
  stand,
};
