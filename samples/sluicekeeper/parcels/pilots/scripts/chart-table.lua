-- The chart on the table is marked where the fog was met.
local ChartTable = { marks = {} }

function ChartTable:on_fog(depth)
  self.marks.last = depth
end

return ChartTable
