package store

import "context"

// Photo is a picture taken at a cook.
type Photo struct {
	CookID int64
	Media  string // image/jpeg or image/png
	Bytes  []byte
}

// AddPhoto keeps a picture.
func (s *Store) AddPhoto(ctx context.Context, who int64, p Photo) (id int64, err error) {
	err = s.pool.QueryRow(ctx, "insert into photos (cook_id, media, bytes, recorded_by) values ($1, $2, $3, $4) returning id", p.CookID, p.Media, p.Bytes, who).Scan(&id)
	return id, err
}

// Photo reads one.
func (s *Store) Photo(ctx context.Context, id int64) (Photo, error) {
	return one[Photo](ctx, s.pool, "select cook_id, media, bytes from photos where id = $1", id)
}
