package render

import (
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/render/scene"
)

// sceneOf is the scene on which a band stands on a screen. One whose words would not be
// read there, as light ones on a light scene, is not drawn.
func sceneOf(b manuscript.Band, prefix string) (scene.Scene, bool) {
	if b.Look.At(prefix, "picture") != "" {
		return scene.Scene{}, false
	}
	s, ok := scene.Of(b.Look.At(prefix, "scene"))
	return s, ok && s.Suits(b.Tone)
}

// sceneClass names how much of a band its scene asks for: a subject needs room beside the
// words or under them, a flat one lies under all of it.
func sceneClass(b manuscript.Band) string {
	if s, ok := sceneOf(b, style.Wide); !ok || s.Flat {
		return ""
	}
	return " scened"
}

// scenery gives the address of a band's scene in the colours of a house, and that at its upper edge.
func scenery(h style.House, b manuscript.Band) func(string, bool) (string, string) {
	return func(_ string, phone bool) (path, top string) {
		prefix := style.Wide
		if phone {
			prefix = ""
		}
		if s, ok := sceneOf(b, prefix); ok {
			return s.Path(h, phone), s.Top(h)
		}
		return "", ""
	}
}

// ornament gives the address of an ornament in the colours of a house.
func ornament(h style.House) func(string) string {
	return func(name string) string {
		if s, ok := scene.Of(name); ok && s.Of == scene.Ornament {
			return s.Path(h, false)
		}
		return ""
	}
}
