module whitebarn

go 1.26.0

ignore ./web/node_modules

require (
	github.com/jackc/pgx/v5 v5.12.0
	gonum.org/v1/gonum v0.17.0
)

require (
	github.com/jackc/pgpassfile v1.0.0 // indirect
	github.com/jackc/pgservicefile v0.0.0-20240606120523-5a60cdf6a761 // indirect
	github.com/stretchr/testify v1.12.1 // indirect
	golang.org/x/text v0.43.0 // indirect
)
