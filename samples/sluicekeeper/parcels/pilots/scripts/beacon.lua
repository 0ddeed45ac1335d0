-- The beacon at the end of the pier burns oil and tells the horn.
local stores = require("crew.stores")

local Beacon = {}

function Beacon:begin()
  self.fuel = stores.oil
  timer("flash", 2)
end

function Beacon:flash()
  bells.ring("pilot.horn", "east")
end

return Beacon
