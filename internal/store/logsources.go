package store

import "context"

// LogSource is how the files of a logger are read, and what their columns measured last.
type LogSource struct {
	Zone      string                  `json:"zone"`
	Scale     string                  `json:"scale"`
	DateOrder string                  `json:"date_order"`
	Shape     string                  `json:"shape"`
	Elapsed   string                  `json:"elapsed"`
	Targets   map[string]SourceTarget `json:"targets"` // by column
}

// SourceTarget is a cut, pit or holder by its name.
type SourceTarget struct {
	Name  string `json:"name"`
	Point string `json:"point"`
	Place string `json:"place"`
}

// LogSource reads what is known of a logger; ErrNotFound where nothing is.
func (s *Store) LogSource(ctx context.Context, name string) (out LogSource, err error) {
	err = s.pool.QueryRow(ctx, "select shape from log_sources where name = $1", name).Scan(&out)
	return out, found(err)
}

// KeepLogSource keeps it; what columns measured that this file does not have stays.
func (s *Store) KeepLogSource(ctx context.Context, who int64, name string, l LogSource) error {
	_, err := s.pool.Exec(ctx, `insert into log_sources (name, shape, kept_by) values ($1, $2, $3) on conflict (name) do update
		set shape = excluded.shape || jsonb_build_object('targets', log_sources.shape->'targets' || excluded.shape->'targets'), kept_by = excluded.kept_by,
			kept_at = now()`, name, l, who)
	return err
}
