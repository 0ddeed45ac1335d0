-- The skiff is a hull of its own, and hides what it does not need.
local Skiff = {}

function Skiff:begin()
  stow("rope", "lantern", "flag")
end

return Skiff
