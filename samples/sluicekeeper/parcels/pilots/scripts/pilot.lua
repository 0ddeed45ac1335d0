-- The pilot keeps watch and wears what the stores give out.
local stores = require("crew.stores")

local Pilot = {}

function Pilot:begin()
  timer("watch", 4)
  timer("rset", 8)
end

function Pilot:watch()
  self.line = stores.rope
end

function Pilot:reset()
  self.line = stores.lantern
end

return Pilot
