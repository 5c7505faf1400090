//! Names and sentences of the demo. All made up.

use crate::{dice, pick};

pub(crate) const SECTIONS: usize = 64;

/// Name, number of the warden, season budget, hourly rate; both in pounds.
pub(crate) const DISTRICTS: [(&str, u32, u32, &str); 6] = [
    ("Eskermoor", 2, 8_400, "24.50"),
    ("Harrow Tarn", 3, 7_250, "23.00"),
    ("Low Marrow", 5, 5_100, "21.75"),
    ("Ninestone", 4, 6_300, "24.50"),
    ("Sallow Beck", 5, 4_750, "21.75"),
    ("Upper Orrin", 4, 9_200, "26.00"),
];

/// Latitude and longitude of each district's middle, somewhere in a made-up upland.
pub(crate) const MIDDLES: [(f64, f64); 6] =
    [(54.82, -2.41), (54.77, -2.53), (54.69, -2.38), (54.88, -2.60), (54.71, -2.66), (54.93, -2.48)];

/// Name, unit, price in pounds, supplier.
pub(crate) const MATERIALS: [(&str, &str, &str, &str); 42] = [
    ("Oak gate post", "post", "38.50", "Brackenby Timber"),
    ("Larch gate post", "post", "24.00", "Brackenby Timber"),
    ("Field gate, 3 m", "gate", "146.00", "Brackenby Timber"),
    ("Kissing gate", "gate", "312.00", "Ironhow Forge"),
    ("Bridle gate", "gate", "218.00", "Ironhow Forge"),
    ("Gate hinge", "pair", "14.20", "Ironhow Forge"),
    ("Gate latch", "latch", "9.80", "Ironhow Forge"),
    ("Stile step", "step", "17.60", "Brackenby Timber"),
    ("Stile post", "post", "19.90", "Brackenby Timber"),
    ("Ladder stile", "stile", "265.00", "Brackenby Timber"),
    ("Oak board, 2.4 m", "board", "21.40", "Brackenby Timber"),
    ("Larch board, 2.4 m", "board", "12.30", "Brackenby Timber"),
    ("Boardwalk bearer", "bearer", "26.80", "Brackenby Timber"),
    ("Bridge beam, 6 m", "beam", "240.00", "Brackenby Timber"),
    ("Handrail, 3 m", "rail", "31.50", "Brackenby Timber"),
    ("Non-slip strip", "strip", "4.60", "Wythop Supplies"),
    ("Chicken wire", "roll", "42.00", "Wythop Supplies"),
    ("Fencing wire", "roll", "58.00", "Wythop Supplies"),
    ("Fencing staple", "box", "7.90", "Wythop Supplies"),
    ("Coach bolt, 150 mm", "bolt", "1.85", "Ironhow Forge"),
    ("Coach bolt, 220 mm", "bolt", "2.40", "Ironhow Forge"),
    ("Galvanised nail", "box", "6.70", "Wythop Supplies"),
    ("Wood screw", "box", "8.30", "Wythop Supplies"),
    ("Waymark post", "post", "29.00", "Brackenby Timber"),
    ("Waymark disc", "disc", "1.20", "Harle & Moss Signs"),
    ("Finger post", "post", "88.00", "Harle & Moss Signs"),
    ("Finger sign", "sign", "46.50", "Harle & Moss Signs"),
    ("Warning sign", "sign", "12.90", "Harle & Moss Signs"),
    ("Notice board", "board", "185.00", "Harle & Moss Signs"),
    ("Culvert pipe, 300 mm", "length", "64.00", "Keldside Aggregates"),
    ("Drain pipe, 110 mm", "length", "18.20", "Keldside Aggregates"),
    ("Drain stone", "tonne", "34.00", "Keldside Aggregates"),
    ("Path gravel", "tonne", "29.50", "Keldside Aggregates"),
    ("Flagstone", "flag", "52.00", "Keldside Aggregates"),
    ("Kerb stone", "stone", "8.40", "Keldside Aggregates"),
    ("Rubble stone", "tonne", "41.00", "Keldside Aggregates"),
    ("Cement", "bag", "7.20", "Wythop Supplies"),
    ("Post mix", "bag", "8.60", "Wythop Supplies"),
    ("Geotextile", "metre", "3.10", "Keldside Aggregates"),
    ("Jute netting", "roll", "74.00", "Wythop Supplies"),
    ("Grass seed", "kg", "9.40", "Wythop Supplies"),
    ("Wood preservative", "tin", "33.00", "Wythop Supplies"),
];

const PLACES: [[&str; 12]; 6] = [
    [
        "Esker Ridge",
        "Hob Gate",
        "Moss Cairn",
        "Kiln Side",
        "Withy Edge",
        "Crook Howe",
        "Fell Barn",
        "Ling Rigg",
        "Starve Crag",
        "Mere Wall",
        "Cold Keld",
        "Peat Hag",
    ],
    [
        "Tarn Foot",
        "Harrow Weir",
        "Larch Hause",
        "Boat Nab",
        "Grey Mare",
        "Swirl Bank",
        "Tarn Head",
        "Dubs Fold",
        "Rowan Ghyll",
        "Char Steps",
        "Ravel Pike",
        "Sheep Bield",
    ],
    [
        "Marrow Mill",
        "Ford End",
        "Low Staithe",
        "Elder Lane",
        "Brick Pond",
        "Hay Close",
        "Marrow Cross",
        "Otter Bridge",
        "Long Acre",
        "Smithy Brow",
        "Alder Carr",
        "Toll House",
    ],
    [
        "Nine Standing",
        "Raven Stone",
        "Far Ninestone",
        "Lamb Pens",
        "Windy Slack",
        "Hollow Way",
        "Beacon Top",
        "Stone Row",
        "Gorse Fold",
        "High Cop",
        "Drovers Halt",
        "Thorn Seat",
    ],
    [
        "Sallow Head",
        "Beck Foot",
        "Osier Bed",
        "Mill Race",
        "Plank Bridge",
        "Sallow Wood",
        "Dipper Falls",
        "Reed Meadow",
        "Kirk Steps",
        "Wash Fold",
        "Heron Pool",
        "Catkin Lane",
    ],
    [
        "Orrin Source",
        "Upper Hope",
        "Snow Gate",
        "Ptarmigan Rigg",
        "Scree Foot",
        "Cloud Hause",
        "Orrin Linn",
        "Shepherd Rest",
        "Iron Well",
        "Black Combe",
        "Eyrie Edge",
        "Last Wall",
    ],
];

pub(crate) fn section_district(n: usize) -> usize {
    n % DISTRICTS.len()
}

/// From one place to the next of its district.
pub(crate) fn section(n: usize) -> String {
    let places = &PLACES[section_district(n)];
    let along = n / DISTRICTS.len();
    format!("{} to {}", places[along % 12], places[(along + 1) % 12])
}

const TITLES: [[&str; 9]; 6] = [
    [
        "Larch down across the path",
        "Beech limb hanging over the stile",
        "Fallen birch, one can climb under",
        "Two pines down after the gale",
        "Thorn bush across the whole path",
        "Split ash leaning on the wall",
        "Roots lifted, trunk across the steps",
        "Windblown spruce by the wall end",
        "Branches down for 40 m",
    ],
    [
        "Footbridge handrail gone, drop to the beck",
        "Boards slippery, two broken through",
        "Bridge beam cracked at the far end",
        "Sleeper bridge tilts when stepped on",
        "Boardwalk sunk into the bog",
        "Nails stand out of the boardwalk",
        "Wire mesh on the bridge torn",
        "One abutment washed hollow",
        "Stepping stones shifted in the flood",
    ],
    [
        "Culvert blocked, path under water for 20 m",
        "Ditch overflows onto the path",
        "Water bar broken, steps washing out",
        "Spring has broken out in the path",
        "Standing water, ankle deep",
        "Drain grate missing",
        "Gully washed out beside the path",
        "Pipe end crushed",
        "Cross drain filled with stones",
    ],
    [
        "Fingerpost arm missing",
        "Waymark post turned round at the fork",
        "Sign points into the quarry",
        "Waymark disc faded to white",
        "Post rotten at the ground",
        "No sign where the path leaves the lane",
        "Notice board glass broken",
        "Distance on the signpost is wrong",
        "Waymark hidden by bramble",
    ],
    [
        "Gate will not open, cattle on both sides",
        "Stile step rotten, reported by two walkers",
        "Kissing gate hinge broken",
        "Gate latch does not hold",
        "Ladder stile loose at the top",
        "Squeeze stile blocked with wire",
        "Gate dragged off its post",
        "Top bar of the stile missing",
        "Spring on the gate too strong for children",
    ],
    [
        "Steps washed out above the sheepfold",
        "Bramble over the path for 60 m",
        "Loose scree on the steep part",
        "Path edge fallen away, narrow",
        "Deep ruts from a vehicle",
        "Bracken over head height",
        "Mud to the knee at the gateway",
        "Stone pitching come loose",
        "Erosion channel down the middle",
    ],
];

pub(crate) fn fault_title(kind: usize, n: usize) -> String {
    pick(&TITLES[kind], n, 31).to_owned()
}

const REMARKS: [&str; 8] = [
    "A detour over the field is possible but it is wet.",
    "We were a group of nine with two dogs and had to turn back.",
    "It looks as if it has been like this for some weeks.",
    "About ten minutes from the car park, going uphill.",
    "The farmer knows and is glad if somebody mends it.",
    "It was worse than last month.",
    "Somebody has put tape round it.",
    "One can pass with care when it is dry.",
];

const LEADS: [&str; 6] = [
    "The trunk is about half a metre thick.",
    "The drop is about two metres.",
    "The water runs along the path and not across it.",
    "The post lies in the grass beside it.",
    "Stock could get through.",
    "It is slippery after rain.",
];

pub(crate) fn description(kind: usize, n: usize) -> String {
    format!("{} {}", LEADS[kind], pick(&REMARKS, n, 32))
}

const FIRST: [&str; 16] = [
    "Wynn", "Odile", "Bram", "Sorrel", "Iolo", "Petra", "Caspian", "Lettice", "Anselm", "Fenna", "Hollis", "Mirren", "Tobiah", "Vesper",
    "Quill", "Ysolde",
];
const LAST: [&str; 16] = [
    "Ashdale",
    "Thackwray",
    "Birkhead",
    "Coldwell",
    "Dunmere",
    "Elterby",
    "Farrowdene",
    "Gillthwaite",
    "Hesketh-Lorne",
    "Ingleton",
    "Kelderby",
    "Lorrimer",
    "Marchbank",
    "Netherfold",
    "Oxenhulme",
    "Pennistone",
];

pub(crate) fn reporter(n: usize) -> String {
    format!("{} {}", FIRST[dice(n, 41, FIRST.len())], LAST[dice(n, 42, LAST.len())])
}

/// A volunteer's name; each of the first 256 is another.
pub(crate) fn volunteer(n: usize) -> String {
    format!("{} {}", FIRST[n * 7 % FIRST.len()], LAST[(n / FIRST.len() + n) % LAST.len()])
}

pub(crate) fn volunteer_mail(n: usize) -> String {
    format!("{}@volunteers.example", volunteer(n).to_lowercase().replace(' ', "."))
}

const TASKS: [&str; 6] =
    ["Clear the drains", "Cut back bracken", "Relay the boards", "Rebuild the wall gap", "Grease the gates", "Paint the waymarks"];

/// What a work party does, and where.
pub(crate) fn party(at: usize, n: usize) -> String {
    format!("{}, {}", TASKS[dice(n, 79, TASKS.len())], section(at))
}

pub(crate) const PARTY_NOTES: [&str; 5] = [
    "Meet at the lay-by at nine.",
    "Bring gloves; tools are in the van.",
    "Lunch at the hall.",
    "Boots with a good tread.",
    "Back by four.",
];

pub(crate) fn mail(name: &str) -> String {
    format!("{}@walkers.example", name.to_lowercase().replace(' ', "."))
}

/// Where a section begins, near its district's middle.
pub(crate) fn place(n: usize) -> String {
    let (latitude, longitude) = MIDDLES[section_district(n)];
    let off = |salt| dice(n, salt, 800) as f64 / 10_000.0 - 0.04;
    format!("{} ({:.4}, {:.4})", section(n), latitude + off(51), longitude + off(52))
}

/// A fitting quantity: few of what costs much.
pub(crate) fn quantity(material: usize, dice: usize) -> usize {
    match MATERIALS[material].2.len() {
        6.. => 1,
        5 => 1 + dice / 3,
        _ => 1 + 2 * dice,
    }
}
