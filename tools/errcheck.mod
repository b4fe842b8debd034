module zealousknot/tools/errcheck

go 1.26.0

tool github.com/kisielk/errcheck

require (
	github.com/kisielk/errcheck v1.30.0 // indirect
	golang.org/x/mod v0.41.0 // indirect
	golang.org/x/sync v0.23.0 // indirect
	golang.org/x/tools v0.51.0 // indirect
)
