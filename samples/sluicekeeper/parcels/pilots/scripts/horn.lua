-- Functions that the pilots' orders call.
function sound_horn(side)
  bells.ring("pilot.horn", side)
end

function light_beacon(side)
  bells.ring("pilot.horn", side)
end
