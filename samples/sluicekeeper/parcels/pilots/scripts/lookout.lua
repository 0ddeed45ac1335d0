-- The lookout hears the pilots' own events by the names of its functions.
local Lookout = {}

function Lookout:begin()
  self.seen = 0
end

function Lookout:on_fog(depth)
  self.seen = depth
end

function Lookout:on_ebb()
  self.seen = 0
end

return Lookout
