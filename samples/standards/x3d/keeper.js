// Opens the gate when it is touched, unless it is moving.
let moving = false;

function touched(value) {
  if (moving) return;
  moving = true;
  opened = value;
}
