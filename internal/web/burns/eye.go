package burns

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"

	"smolder/internal/core/burn"
	"smolder/internal/picture"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// An eyePart is the owner's eye on a burn's page.
type eyePart struct {
	Marks  []eyeMark
	Meant  string
	Photos []store.Photo
	Gone   []store.Photo
	Full   bool
	None   bool // nothing is marked yet
}

// eyeMark is one quick mark with what it may be.
type eyeMark struct {
	Key, Asks string
	May       []kit.Option
}

func eyeOf(q *kit.Request, b store.Burn) (*eyePart, error) {
	eye, err := q.Home.EyeOf(q.Ctx(), b.ID)
	if err != nil {
		return nil, err
	}
	photos, err := q.Home.Photos(q.Ctx(), b.ID)
	if err != nil {
		return nil, err
	}
	p := &eyePart{Meant: eye.Meant, None: eye == burn.Eye{}}
	for _, m := range burn.EyeMarks {
		mark := eyeMark{Key: m.Key, Asks: say.EyeMark(m.Asks, q.Locale())}
		for _, may := range m.May {
			mark.May = append(mark.May, kit.Option{Value: may, Label: say.EyeMark(may, q.Locale()), Chosen: *m.Of(&eye) == may})
		}
		p.Marks = append(p.Marks, mark)
	}
	for _, photo := range photos {
		if photo.Removed {
			p.Gone = append(p.Gone, photo)
		} else {
			p.Photos = append(p.Photos, photo)
		}
	}
	p.Full = len(p.Photos) >= store.MostPhotos
	return p, nil
}

// keepEye keeps the marks; each tap sends its own, the others stay.
func (s Room) keepEye(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	if _, err := q.Home.LoggedBurn(q.Ctx(), id); err != nil {
		return err
	}
	eye, err := q.Home.EyeOf(q.Ctx(), id)
	if err != nil {
		return err
	}
	for _, m := range burn.EyeMarks {
		if _, sent := f.Values[m.Key]; sent {
			*m.Of(&eye) = f.Text(m.Key)
		}
	}
	if _, sent := f.Values["meant"]; sent {
		eye.Meant = f.Text("meant")
	}
	if err := eye.Check(); err != nil {
		f.Fails("meant", err)
		return kit.BadInput(f.First())
	}
	if err := q.Home.KeepEye(q.Ctx(), id, eye); err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/burns/%d#eye", id))
}

// addPhoto takes a picture of a burn.
func (s Room) addPhoto(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if _, err := q.Home.LoggedBurn(q.Ctx(), id); err != nil {
		return err
	}
	parts, err := q.Request.MultipartReader()
	if err != nil {
		return kit.BadInput(q.T("Choose a picture first: a JPEG, PNG or WebP would do."))
	}
	for range 10 {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return kit.BadInput(q.T("The picture did not arrive whole; send it again."))
		}
		if part.FormName() != "photo" || part.FileName() == "" {
			continue
		}
		jpeg, width, height, err := picture.Clean(part)
		switch {
		case errors.Is(err, picture.ErrKind):
			return kit.BadInput(q.T("That is no picture that can be read here: a JPEG, PNG or WebP would do."))
		case errors.Is(err, picture.ErrLarge):
			return kit.Answer(http.StatusRequestEntityTooLarge, q.T("That picture is too large: up to 8 MB and 50 million pixels would do."))
		case err != nil:
			return err
		}
		err = q.Home.AddPhoto(q.Ctx(), id, width, height, jpeg, q.Now())
		if errors.Is(err, store.ErrMany) {
			return kit.Answer(http.StatusConflict, q.F("A burn keeps up to %d pictures. Take one off first.", store.MostPhotos))
		}
		if err != nil {
			return err
		}
		return q.SeeOther(fmt.Sprintf("/burns/%d#eye", id))
	}
	return kit.BadInput(q.T("Choose a picture first: a JPEG, PNG or WebP would do."))
}

func (s Room) photo(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	photo, err := q.ID("photo")
	if err != nil {
		return err
	}
	jpeg, err := q.Home.Picture(q.Ctx(), id, photo)
	if err != nil {
		return err
	}
	q.Header("Cache-Control", "private, max-age=86400")
	q.Header("Content-Disposition", `inline; filename="burn-`+strconv.FormatInt(id, 10)+`.jpg"`)
	q.Data(http.StatusOK, "image/jpeg", jpeg)
	return nil
}

func (s Room) removePhoto(gone bool) func(q *kit.Request) error {
	return func(q *kit.Request) error {
		id, err := q.ID("id")
		if err != nil {
			return err
		}
		photo, err := q.ID("photo")
		if err != nil {
			return err
		}
		if err := q.Home.RemovePhoto(q.Ctx(), id, photo, gone, q.Now()); err != nil {
			return err
		}
		return q.SeeOther(fmt.Sprintf("/burns/%d#eye", id))
	}
}
