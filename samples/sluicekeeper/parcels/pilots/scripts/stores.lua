-- What the pilots keep in their shed, and what each thing needs.
return {
  rope = { needs = {}, picture = "pictures/gate.svg" },
  oil = { needs = {} },
  lantern = { needs = { "oil" } },
  mast = { needs = {} },
  flag = { needs = { "rope", "mst" } },
}
