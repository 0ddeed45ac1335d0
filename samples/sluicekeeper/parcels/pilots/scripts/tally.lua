-- Counts what the horn says.
local Tally = { count = 0 }

function Tally:on_horn(side)
  self.count = self.count + 1
  self.side = side
end

return Tally
