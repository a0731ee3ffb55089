// Package background does what nobody waits for: it works out what ended burns came to and what
// they teach, makes the parts of the table that readings will stand in, and lets go of what has
// run out. It is a queue in the database (River), which several servers share.
//
// A household's work is one job, whatever it has to do: what is to be done is what the database
// lacks ([reviewing.Worker.CatchUp]), so that a job that is cut off is gone on with, and done
// twice changes nothing. One that fails is its household's own matter, and is tried again later
// and later; [Queue.Trouble] says what it was.
package background

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivertype"

	"database/sql"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/parallel"
	"smolder/internal/store"
)

const (
	// settles is how long after something has changed its work begins: more may follow.
	settles = 2 * time.Second
	// looksEvery is how often it is looked for work that nobody has told of.
	looksEvery = 30 * time.Second
	// tidiesEvery is how often the house is kept.
	tidiesEvery = time.Hour
	// turn is how long one household's job works before another's turn comes, and cutOff after
	// how long one is taken to be that of a server that was killed.
	turn, cutOff = 3 * time.Minute, 8 * time.Minute
	// firstPause is how long a household's work rests after it could not be done, and it
	// doubles up to longestPause: what is broken in one must not be tried all day.
	firstPause, longestPause = time.Minute, 6 * time.Hour
	// manyTries is more than there can be at that pace.
	manyTries = 10_000
	// atOnce is how many jobs one process does at a time: a review takes a core.
	atOnce = 1
)

// A Queue is the work of one process. Make it with [New] and let it [Queue.Run].
type Queue struct {
	store  *store.Store
	client *river.Client[*sql.Tx]
	log    *slog.Logger
}

// New returns a queue of a store whose work is done by the given worker, by the given clock.
func New(s *store.Store, w *reviewing.Worker, now func() time.Time, log *slog.Logger) (*Queue, error) {
	q := &Queue{store: s, log: log}
	workers := river.NewWorkers()
	river.AddWorker(workers, &catchingUp{queue: q, worker: w})
	river.AddWorker(workers, &looking{queue: q})
	river.AddWorker(workers, &tidying{store: s, now: now})
	config := &river.Config{
		Workers:              workers,
		Queues:               map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: atOnce}},
		PollOnly:             true, // the pool's connections are few, and none is kept for listening
		FetchPollInterval:    time.Second,
		JobTimeout:           turn + time.Minute,
		RescueStuckJobsAfter: cutOff,
		RetryPolicy:          laterAndLater{},
		ErrorHandler:         q,
		Logger:               slog.New(slog.DiscardHandler), // what matters is said by this package
		PeriodicJobs: []*river.PeriodicJob{
			every(looksEvery, lookArgs{}),
			every(tidiesEvery, tidyArgs{}),
		},
	}
	var err error
	q.client, err = river.NewClient(riverdatabasesql.New(s.DB()), config)
	if err != nil {
		return nil, fmt.Errorf("the queue of background work: %w", err)
	}
	return q, nil
}

func every(d time.Duration, args river.JobArgs) *river.PeriodicJob {
	return river.NewPeriodicJob(river.PeriodicInterval(d), func() (river.JobArgs, *river.InsertOpts) { return args, nil },
		&river.PeriodicJobOpts{RunOnStart: true})
}

// Run works until the context ends, and then until what is under way has stopped.
func (q *Queue) Run(ctx context.Context) error {
	if err := q.client.Start(context.WithoutCancel(ctx)); err != nil {
		return fmt.Errorf("the queue of background work: %w", err)
	}
	<-ctx.Done()
	over, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return q.client.StopAndCancel(over)
}

// once is that a job is there only once, unless it is over.
var once = river.UniqueOpts{ByArgs: true, ByState: []rivertype.JobState{rivertype.JobStateAvailable, rivertype.JobStatePending,
	rivertype.JobStateRetryable, rivertype.JobStateRunning, rivertype.JobStateScheduled}}

// Wake tells that something of a household has changed. Work of it that rests after a failure
// is tried again.
func (q *Queue) Wake(ctx context.Context, household int64) {
	got, err := q.client.Insert(ctx, catchUpArgs{household}, &river.InsertOpts{ScheduledAt: time.Now().Add(settles)})
	if err == nil && got.UniqueSkippedAsDuplicate && got.Job.State == rivertype.JobStateRetryable {
		_, err = q.client.JobRetry(ctx, got.Job.ID)
	}
	if err != nil && ctx.Err() == nil { // it is found by looking, later
		q.log.Warn("telling of work", "household", household, "error", err)
	}
}

// A Trouble is why a household's work could not be done, and when it is tried again.
type Trouble struct {
	Why   string
	Again time.Time
}

// Trouble is that of a household; nil where all is well.
func (q *Queue) Trouble(ctx context.Context, household int64) (*Trouble, error) {
	list, err := q.client.JobList(ctx, river.NewJobListParams().Kinds(catchUpArgs{}.Kind()).States(rivertype.JobStateRetryable).First(1000))
	if err != nil {
		return nil, err
	}
	for _, job := range list.Jobs {
		var args catchUpArgs
		if json.Unmarshal(job.EncodedArgs, &args) == nil && args.Household == household && len(job.Errors) > 0 {
			return &Trouble{Why: job.Errors[len(job.Errors)-1].Error, Again: job.ScheduledAt}, nil
		}
	}
	return nil, nil
}

// HandleError says what could not be done. It is tried again.
func (q *Queue) HandleError(_ context.Context, job *rivertype.JobRow, err error) *river.ErrorHandlerResult {
	q.log.Warn("background work", "kind", job.Kind, "args", string(job.EncodedArgs), "try", job.Attempt, "error", err)
	return nil
}

// HandlePanic likewise, of a fault in the program.
func (q *Queue) HandlePanic(_ context.Context, job *rivertype.JobRow, panicked any, trace string) *river.ErrorHandlerResult {
	q.log.Error("background work", "kind", job.Kind, "args", string(job.EncodedArgs), "try", job.Attempt, "error", panicked, "stack", trace)
	return nil
}

// laterAndLater is when what has failed is tried again.
type laterAndLater struct{}

// NextRetry doubles the pause each time.
func (laterAndLater) NextRetry(job *rivertype.JobRow) time.Time {
	pause := firstPause
	for range job.Attempt - 1 {
		if pause *= 2; pause >= longestPause {
			pause = longestPause
			break
		}
	}
	return time.Now().Add(pause)
}

// catchUpArgs ask for all that is to be done for a household.
type catchUpArgs struct {
	Household int64 `json:"household"`
}

// Kind names it in the queue.
func (catchUpArgs) Kind() string { return "catch-up" }

// InsertOpts let it be there once.
func (catchUpArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{UniqueOpts: once, MaxAttempts: manyTries}
}

type catchingUp struct {
	river.WorkerDefaults[catchUpArgs]
	queue  *Queue
	worker *reviewing.Worker
}

// Work does what there is to do, for one turn; where something is left its turn comes again.
func (c *catchingUp) Work(ctx context.Context, job *river.Job[catchUpArgs]) error {
	mine, cancel := context.WithTimeout(ctx, turn)
	defer cancel()
	var err error
	parallel.Behind(func() { err = c.worker.CatchUp(mine, job.Args.Household) })
	if ctx.Err() != nil { // the server stops, or has lost it: it is gone on with where it starts again
		return river.JobSnooze(0)
	}
	if mine.Err() != nil {
		return river.JobSnooze(time.Second)
	}
	if err != nil {
		return err
	}
	behind, err := c.queue.store.Behind(ctx)
	if err == nil && slices.Contains(behind, job.Args.Household) { // it has changed meanwhile
		return river.JobSnooze(settles)
	}
	return err
}

// lookArgs ask which households have work that nobody has told of: of before this server, or of
// an older program.
type lookArgs struct{}

// Kind names it in the queue.
func (lookArgs) Kind() string { return "look-for-work" }

// InsertOpts let it be there once; what fails is looked for again soon anyway.
func (lookArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{UniqueOpts: once, MaxAttempts: 1, Priority: 2}
}

type looking struct {
	river.WorkerDefaults[lookArgs]
	queue *Queue
}

// Work queues a job for each of them that has none.
func (l *looking) Work(ctx context.Context, _ *river.Job[lookArgs]) error {
	behind, err := l.queue.store.Behind(ctx)
	if err != nil {
		return err
	}
	for _, household := range behind {
		if _, err := l.queue.client.Insert(ctx, catchUpArgs{household}, nil); err != nil {
			return err
		}
	}
	return nil
}

// tidyArgs ask to keep the house.
type tidyArgs struct{}

// Kind names it in the queue.
func (tidyArgs) Kind() string { return "tidy" }

// InsertOpts let it be there once, before all others: readings wait for it.
func (tidyArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{UniqueOpts: once, MaxAttempts: 3}
}

type tidying struct {
	river.WorkerDefaults[tidyArgs]
	store *store.Store
	now   func() time.Time
}

// Work makes the parts of the table of readings, and lets go of what has run out.
func (t *tidying) Work(ctx context.Context, _ *river.Job[tidyArgs]) error {
	now := t.now()
	if err := t.store.MakeParts(ctx, now); err != nil {
		return err
	}
	return t.store.Tidy(ctx, now)
}
