module whitebarn

go 1.26.0

ignore ./web/node_modules

require gonum.org/v1/gonum v0.17.0
