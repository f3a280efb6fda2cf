// The page's script: each part in a module named for what it serves. Everything on a page also works without it.
import "./keys.js";
import "./help.js";
import "./kept.js";
import "./typing.js";
import "./cell.js";
import "./walk.js";
import "./plan.js";
import "./zones.js";
import "./drafts.js";
import "./folds.js";
import "./look.js";
import "./keypad.js";
import "./fit.js";
import "./handles.js";
import "./settle.js";
import "./films.js";
import "./day.js";
import "./picture.js";
import "./dims.js";
import "./inspect.js";
import "./aloud.js";
import "./phone.js";
import "./take.js";
import "./practice.js";
import "./working.js";
import { begin } from "./send.js";

begin();
