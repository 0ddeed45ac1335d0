-- Tells the others how far one can see.
local FogGauge = {}

function FogGauge:begin()
  self.depth = 3
  bells.ring("pilot.fog", self.depth)
end

return FogGauge
