package units

// germanUnits are units by their German names, in small letters and without blanks, as they
// are in the tables of the kinds. A Pfund is left out: it is half a kilogram to some and a
// pound to others.
var germanUnits = map[string]string{
	"grad": "°", "gradcelsius": "c", "gradc": "c", "gradfahrenheit": "f", "gradf": "f",
	"kilogramm": "kg", "gramm": "g", "tonnen": "t",
	"meter": "m", "metern": "m", "zentimeter": "cm", "millimeter": "mm", "zoll": "in", "fuß": "ft", "fuss": "ft",
	"liter": "l", "litern": "l", "kubikmeter": "m3", "kubikmetern": "m3", "quadratmeter": "m2",
	"kubikmeterjestunde": "m3/h", "kubikmeterprostunde": "m3/h",
	"prozent": "%",
	"stück":   "pieces", "stücke": "pieces", "scheit": "pieces", "scheite": "pieces", "scheiten": "pieces", "holzscheite": "pieces", "rundlinge": "rounds",
	"knoten": "kn",
}
