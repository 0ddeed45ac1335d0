/**
 * glTF 2.0 (ISO/IEC 12113) in JSON, with the extension KHR_interactivity: nodes, meshes, materials, textures, skins
 * and animations refer to each other by their positions in lists.
 */
export const GLTF_PLAN = String.raw`{
  "version": 1,
  "name": "glTF",
  "files": {
    "gltf": {
      "match": "**/*.gltf",
      "as": "scene",
      "format": "json",
      "pieces": {
        "scenes": { "at": "$.scenes[*]", "kind": "record", "named": ["$.name", { "text": "Scene" }] },
        "nodes": {
          "at": "$.nodes[*]",
          "kind": "object",
          "named": ["$.name", { "text": "Node" }],
          "children": { "at": "$.children[*]", "by": "index" }
        },
        "meshes": { "at": "$.meshes[*]", "kind": "record", "named": ["$.name", { "text": "Mesh" }] },
        "materials": { "at": "$.materials[*]", "kind": "record", "named": ["$.name", { "text": "Material" }] },
        "textures": { "at": "$.textures[*]", "kind": "record", "named": ["$.name", { "text": "Texture" }] },
        "images": { "at": "$.images[*]", "kind": "record", "named": ["$.name", "$.uri", { "text": "Image" }] },
        "samplers": { "at": "$.samplers[*]", "kind": "record", "named": ["$.name", { "text": "Sampler" }] },
        "skins": { "at": "$.skins[*]", "kind": "record", "named": ["$.name", { "text": "Skin" }] },
        "cameras": { "at": "$.cameras[*]", "kind": "record", "named": ["$.name", { "text": "Camera" }] },
        "animations": { "at": "$.animations[*]", "kind": "record", "named": ["$.name", { "text": "Animation" }] },
        "accessors": { "at": "$.accessors[*]", "kind": "record", "named": ["$.name", { "text": "Accessor" }] },
        "buffer views": { "at": "$.bufferViews[*]", "kind": "record", "named": ["$.name", { "text": "Buffer view" }] },
        "buffers": { "at": "$.buffers[*]", "kind": "record", "named": ["$.name", "$.uri", { "text": "Buffer" }] },
        "graphs": {
          "at": "$.extensions.KHR_interactivity.graphs[*]",
          "kind": "graph",
          "named": ["$.name", { "text": "Graph" }]
        },
        "graph events": {
          "at": "$.extensions.KHR_interactivity.graphs[*].events[*]",
          "kind": "event",
          "id": "$.id",
          "named": ["$.id", { "text": "Event" }]
        },
        "graph variables": {
          "at": "$.extensions.KHR_interactivity.graphs[*].variables[*]",
          "kind": "variable",
          "named": ["$.name", { "text": "Variable" }]
        },
        "graph steps": {
          "at": "$.extensions.KHR_interactivity.graphs[*].nodes[*]",
          "kind": "step",
          "named": [{ "select": "$.declaration", "item": "$.declarations[*].op" }, { "text": "Step" }]
        }
      },
      "references": {
        "nodes of scenes": { "at": "$.scenes[*].nodes[*]", "by": "index", "of": "nodes", "verb": "holds" },
        "children": { "at": "$.nodes[*].children[*]", "by": "index", "of": "nodes", "verb": "holds" },
        "meshes": { "at": "$.nodes[*].mesh", "by": "index", "of": "meshes" },
        "skins": { "at": "$.nodes[*].skin", "by": "index", "of": "skins" },
        "cameras": { "at": "$.nodes[*].camera", "by": "index", "of": "cameras" },
        "joints": { "at": "$.skins[*].joints[*]", "by": "index", "of": "nodes" },
        "skeletons": { "at": "$.skins[*].skeleton", "by": "index", "of": "nodes" },
        "bind matrices": { "at": "$.skins[*].inverseBindMatrices", "by": "index", "of": "accessors" },
        "materials": { "at": "$.meshes[*].primitives[*].material", "by": "index", "of": "materials" },
        "vertices": { "at": "$.meshes[*].primitives[*].attributes.*", "by": "index", "of": "accessors" },
        "indices": { "at": "$.meshes[*].primitives[*].indices", "by": "index", "of": "accessors" },
        "morph targets": { "at": "$.meshes[*].primitives[*].targets[*].*", "by": "index", "of": "accessors" },
        "textures": { "at": "$.materials[*]..[?@.index >= 0].index", "by": "index", "of": "textures" },
        "images": { "at": "$.textures[*].source", "by": "index", "of": "images" },
        "samplers": { "at": "$.textures[*].sampler", "by": "index", "of": "samplers" },
        "moved nodes": {
          "at": "$.animations[*].channels[*].target.node",
          "by": "index",
          "of": "nodes",
          "verb": "moves"
        },
        "key frames": { "at": "$.animations[*].samplers[*]['input', 'output']", "by": "index", "of": "accessors" },
        "buffer views": { "at": "$.accessors[*]..bufferView", "by": "index", "of": "buffer views" },
        "buffer views of images": { "at": "$.images[*].bufferView", "by": "index", "of": "buffer views" },
        "buffers": { "at": "$.bufferViews[*].buffer", "by": "index", "of": "buffers" },
        "files": {
          "at": "$['buffers', 'images'][*].uri",
          "by": "path",
          "from": "file",
          "decode": true,
          "pattern": "^(?!data:|\\w+://)(.+)$"
        },
        "start scene": { "at": "$.scene", "by": "index", "of": "scenes", "verb": "loads", "role": "start scene" },
        "nodes in graphs": {
          "at": "$.extensions.KHR_interactivity.graphs[*].nodes[*].configuration['nodeIndex', 'node'].value[*]",
          "by": "index",
          "of": "nodes"
        },
        "variables in graphs": {
          "at": "$.extensions.KHR_interactivity.graphs[*].nodes[*].configuration['variable', 'variables'].value[*]",
          "by": "index",
          "of": "graph variables"
        }
      },
      "connections": {
        "flows": {
          "at": "$.extensions.KHR_interactivity.graphs[*].nodes[*].flows.*",
          "to": "$.node",
          "by": "index",
          "of": "graph steps",
          "label": [{ "key": true }, "$.socket"]
        },
        "values": {
          "at": "$.extensions.KHR_interactivity.graphs[*].nodes[*].values[?@.node >= 0]",
          "to": "$.node",
          "by": "index",
          "of": "graph steps",
          "verb": "reads",
          "label": [{ "key": true }, "$.socket"]
        }
      },
      "graphs": {
        "interactivity": {
          "steps": "graph steps",
          "kind": { "select": "$.declaration", "item": "$.declarations[*].op" },
          "means": {
            "event/send": {
              "verb": "sends",
              "event": { "select": "$.configuration.event.value[0]", "item": "$.events[*].id" }
            },
            "event/receive": {
              "verb": "listens to",
              "event": { "select": "$.configuration.event.value[0]", "item": "$.events[*].id" }
            },
            "animation/start": {
              "verb": "uses",
              "field": "$.values.animation.value[0]",
              "by": "index",
              "of": "animations"
            },
            "animation/stop": {
              "verb": "uses",
              "field": "$.values.animation.value[0]",
              "by": "index",
              "of": "animations"
            }
          }
        }
      }
    },
    "gltf buffers and images": { "match": ["**/*.{bin,png,jpg,jpeg,webp,ktx2}"], "as": "media" }
  },
  // Whatever shows the scene may send and hear events too.
  "engine": { "events": ["**"] }
}`;
