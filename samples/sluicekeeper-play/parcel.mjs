/** The pilots' parcel: its Lua, and what it does when the weather turns. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { LuaFactory } from 'wasmoon';

const HERE = 'parcels/pilots';
/** What the parcel's code finds there, in its own language. */
const PRELUDE = `
local taken = {}
local function run(file)
  local text = readScript(file)
  if not text then return nil end
  local chunk, problem = load(text, "@${HERE}/scripts/" .. file .. ".lua")
  if not chunk then error(problem, 0) end
  return chunk
end
-- What a file gives is all there is: what it does not have is no empty value.
function require(name)
  local file = name:gsub("^crew%.", "")
  if taken[file] == nil then
    local chunk = run(file)
    if not chunk then error("there is no file " .. name, 2) end
    taken[file] = setmetatable(chunk(), { __index = function(_, key) error(file .. " has no " .. tostring(key), 2) end })
  end
  return taken[file]
end
bells = { ring = function(event, ...) ringBell(event, ...) end }
local crew = {}
function timer(name, seconds) setTimer(speaking, name, seconds) end
function stow(...)
  for _, name in ipairs({ ... }) do local _ = require("crew.stores")[name] end
end
function enlist(file)
  local type = run(file)()
  if type == nil then return false end
  crew[file] = setmetatable({}, { __index = type })
  return type.begin ~= nil
end
function does(file, name, ...)
  local one = crew[file]
  if one == nil or one[name] == nil then error(file .. " has no " .. name, 0) end
  local before = speaking
  speaking = file
  local ok, problem = pcall(one[name], one, ...)
  speaking = before
  if not ok then error(problem, 0) end
end
function hears(file, name) return crew[file] ~= nil and crew[file][name] ~= nil end
function order(code)
  local chunk, problem = load(code, "=order")
  if not chunk then error(problem, 0) end
  chunk()
end
function takes(store) local _ = require("crew.stores")[store] end
function needs()
  local all = {}
  local stores = require("crew.stores")
  for name, store in pairs(stores) do
    for _, need in ipairs(store.needs or {}) do
      if rawget(stores, need) == nil then all[#all + 1] = name .. " needs " .. need .. ", which the stores do not have" end
    end
  end
  return table.concat(all, "; ")
end
`;

/** @param engine what the parcel needs of the game: `ring`, `hear`, `run`, `later` */
export async function openParcel(folder, engine) {
  const lua = await new LuaFactory().createEngine();
  const scripts = join(folder, HERE, 'scripts');
  lua.global.set('readScript', (file) => {
    const path = join(scripts, `${file}.lua`);
    return existsSync(path) ? readFileSync(path, 'utf8') : undefined;
  });
  lua.global.set('ringBell', (event, ...payload) => engine.ring(event, ...payload));
  await lua.doString(PRELUDE);
  const call = (name, ...given) => lua.global.get(name)(...given);
  const who = (file) => ({ name: `${HERE}/scripts/${file}.lua` });
  lua.global.set('setTimer', (file, name, seconds) =>
    engine.later(seconds, who(file), `${file}.${name}`, () => call('does', file, name)),
  );
  const files = readdirSync(scripts).map((name) => basename(name, '.lua'));
  return {
    begin() {
      for (const file of files) {
        const begins = engine.run(who(file), `${file} is read`, () => call('enlist', file));
        if (begins) engine.run(who(file), `${file}.begin`, () => call('does', file, 'begin'));
        for (const event of ['fog', 'ebb', 'horn'])
          if (call('hears', file, `on_${event}`))
            engine.hear(`pilot.${event}`, who(file), `on_${event}`, (...given) =>
              call('does', file, `on_${event}`, ...given),
            );
      }
      engine.run(who('stores'), 'the stores are counted', () => {
        const missing = call('needs');
        if (missing) throw new Error(missing);
      });
      engine.run({ name: `${HERE}/signs.csv` }, 'signs are painted', () => {
        const signs = readFileSync(join(folder, HERE, 'signs.csv'), 'utf8')
          .trim()
          .split('\n');
        for (const picture of signs.map((line) => line.split(',')[1].trim().replace('{side}', 'north')))
          if (!existsSync(join(folder, picture))) throw new Error(`there is no file ${picture}`);
      });
      this.orders();
    },
    /** `order`, and below it `when` something is heard, what it `takes`, and what to `do`. */
    orders() {
      const text = readFileSync(join(folder, HERE, 'pilots.orders'), 'utf8');
      let event;
      const steps = new Map();
      text.split('\n').forEach((line, at) => {
        const [, word, rest = ''] = /^\s*(order|when|takes|do)\s+(.*)$/.exec(line) ?? [];
        if (word === 'when') steps.set((event = rest), []);
        else if (event && (word === 'takes' || word === 'do')) steps.get(event).push({ word, rest, line: at + 1 });
      });
      const carriedOut = new Set();
      for (const [when, all] of steps)
        engine.hear(when, { name: `${HERE}/pilots.orders` }, 'order', () => {
          // An order that is being carried out is not begun again.
          if (carriedOut.has(when)) return;
          carriedOut.add(when);
          for (const { word, rest, line } of all) {
            const by = { name: `${HERE}/pilots.orders`, place: { file: `${HERE}/pilots.orders`, line } };
            if (word === 'takes') engine.run(by, `takes ${rest}`, () => call('takes', rest));
            else for (const [, code] of rest.matchAll(/<<([^>]*)>>/g)) engine.run(by, code, () => call('order', code));
          }
          carriedOut.delete(when);
        });
    },
    close: () => lua.global.close(),
  };
}

/** Where in the parcel an error came up. */
export function placeInLua(error) {
  const [, file, line] = /(parcels\/[\w./-]+\.lua):(\d+):/.exec(String(error.message)) ?? [];
  return file && { file, line: Number(line) };
}
