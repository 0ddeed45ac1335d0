-- Writes what happens in a game as a play log: to a file that Glue Trace follows, or into a pipe.
--   glue play record my-game --follow play.ndjson
local PlayLog = {}
PlayLog.__index = PlayLog

local SIGNS = { ['"'] = '\\"', ["\\"] = "\\\\", ["\n"] = "\\n", ["\r"] = "\\r", ["\t"] = "\\t" }

-- Tables with the numbers from 1 on are lists, all others are objects.
local function json(value)
  local kind = type(value)
  if kind == "string" then
    return '"' .. value:gsub('[%c"\\]', function(sign) return SIGNS[sign] or string.format("\\u%04x", sign:byte()) end) .. '"'
  elseif kind == "number" then
    return (value ~= value or value == math.huge or value == -math.huge) and "null" or string.format("%.14g", value)
  elseif kind == "boolean" then
    return tostring(value)
  elseif kind ~= "table" then
    return "null"
  end
  local parts = {}
  if #value > 0 then
    for at, item in ipairs(value) do parts[at] = json(item) end
    return "[" .. table.concat(parts, ",") .. "]"
  end
  for key, item in pairs(value) do parts[#parts + 1] = json(tostring(key)) .. ":" .. json(item) end
  return "{" .. table.concat(parts, ",") .. "}"
end

-- `write` takes a line; `now` gives the time as RFC 3339 has it, and may be left out.
function PlayLog.new(write, now)
  return setmetatable({ write = write, now = now, last = 0 }, PlayLog)
end

-- Gives the id of the event, to be the cause of others.
function PlayLog:note(type, source, more)
  self.last = self.last + 1
  local event = { specversion = "1.0", id = tostring(self.last), type = type, source = source }
  if self.now then event.time = self.now() end
  for key, value in pairs(more or {}) do event[key] = value end
  self.write(json(event) .. "\n")
  return event.id
end

return PlayLog
