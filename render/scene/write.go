package scene

import (
	"fmt"
	"strings"
)

func write(b *strings.Builder, format string, args ...any) { fmt.Fprintf(b, format, args...) }
