/**
 * X3D in its XML encoding (ISO/IEC 19776-1, with the nodes of ISO/IEC 19775-1): named nodes, USE, ROUTE, prototypes,
 * Inline, Script and everything with a `url`.
 */
export const X3D_PLAN = String.raw`{
  "version": 1,
  "name": "X3D",
  "files": {
    "x3d scenes": {
      "match": "**/*.x3d",
      "as": "scene",
      "format": "xml",
      "named": ["$.X3D[0].head[0].meta[?@.name == 'title'].content", { "file": "stem" }],
      "pieces": {
        // A prototype's name and a node's DEF are known in their own file alone.
        "prototypes": { "at": "$..ProtoDeclare[*]", "kind": "prefab", "named": "$.name" },
        "prototypes of other files": { "at": "$..ExternProtoDeclare[*]", "kind": "prefab", "named": "$.name" },
        "instances of prototypes": {
          "at": "$..ProtoInstance[?@.name]",
          "kind": "object",
          "id": "$.DEF",
          "named": ["$.DEF", "$.name"],
          "madeFrom": { "field": "$.name", "by": "name", "kinds": "prefab", "within": "file" }
        },
        "scripts": {
          "at": "$..Script[*]",
          "kind": "object",
          "id": "$.DEF",
          "named": ["$.DEF", { "text": "Script" }]
        },
        "groups": {
          "at": "$..['Group', 'Transform', 'Switch', 'LOD', 'Anchor', 'Billboard', 'Collision', 'StaticGroup', 'Inline'][?!@.USE]",
          "kind": "object",
          "id": "$.DEF",
          "named": ["$.DEF", "$['#tag']"]
        },
        "named nodes": { "at": "$..[?@.DEF && @['#tag']]", "kind": "object", "id": "$.DEF", "named": "$.DEF" }
      },
      "references": {
        "USE": { "at": "$..USE", "by": "id", "kinds": "object", "within": "file" },
        "url": {
          "at": "$..[?@['#tag'] && @['#tag'] != 'Anchor' && @['#tag'] != 'ExternProtoDeclare' && @['#tag'] != 'Script' && @['#tag'] != 'field'].url",
          "by": "path",
          "from": "file",
          "every": true,
          "decode": true,
          // One address bare, or a list of them in quotes; addresses elsewhere and code in place are none of ours.
          "pattern": "(?:^|[\"' ])((?!\\w+:|[\"' ,])[^\"'#]+?)(?:#[^\"']*)?(?=[\"']|$)"
        },
        "script files": {
          "at": "$..Script[*].url",
          "by": "path",
          "from": "file",
          "every": true,
          "decode": true,
          "pattern": "(?:^|[\"' ])((?!\\w+:|[\"' ,])[^\"'#(){};]+?)(?:#[^\"']*)?(?=[\"']|$)"
        },
        "files of prototypes": {
          "at": "$..ExternProtoDeclare[*].url",
          "by": "path",
          "from": "file",
          "decode": true,
          "inner": "name",
          "pattern": "(?:^|[\"' ])((?!\\w+:)[^\"'# ]+)(?:#([^\"']+))?(?=[\"']|$)"
        }
      },
      "connections": {
        "ROUTE": {
          "at": "$..ROUTE[*]",
          "from": "$.fromNode",
          "to": "$.toNode",
          "by": "id",
          "verb": "sends",
          "label": ["$.fromField", "$.toField"]
        }
      }
    },
    "x3d pictures and sounds": {
      "match": ["**/*.{png,jpg,jpeg,gif,wav,mp3,ogg,mp4,mpg,mid}"],
      "as": "media"
    }
  },
  "scripts": { "x3d scripts": { "match": "**/*.js", "language": "javascript" } }
}`;
