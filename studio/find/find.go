package find

import (
	"strings"

	"chrysagon/app/find"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// find answers what Ctrl+K asks.
func (p *Place) find(c fiber.Ctx) error {
	question := frame.Typed(c, "q")
	found, err := p.Find.Find(c, question)
	if err != nil {
		return err
	}
	asked := strings.Fields(strings.ToLower(question))
	var can []find.Spot
	for _, d := range p.Doings() {
		all := true
		for _, w := range asked {
			all = all && strings.Contains(strings.ToLower(d.Name)+" "+d.Words, w)
		}
		if all {
			can = append(can, find.Spot{Kind: map[bool]string{true: "do", false: "go to"}[d.Do != ""], Name: d.Name, Path: d.Path, Do: d.Do})
		}
	}
	return p.Fragment(c, "found", map[string]any{"Found": append(found, can...), "Question": question})
}
