-- The lamp on the pier; it burns what the stores have.
local stores = require("crew.stores")
local knots = require("crew.knots")

local Lamplight = {}

function Lamplight:begin()
  self.fuel = stores.oyl
  self.knot = knots.first
end

return Lamplight
