//! Names and sentences of the demo. All made up.

use crate::{dice, pick};

pub(crate) const SECTIONS: usize = 64;

/// Name, number of the warden, season budget.
pub(crate) const DISTRICTS: [(&str, u32, u32); 6] = [
    ("Eskermoor", 2, 8_400),
    ("Harrow Tarn", 3, 7_250),
    ("Low Marrow", 5, 5_100),
    ("Ninestone", 4, 6_300),
    ("Sallow Beck", 5, 4_750),
    ("Upper Orrin", 4, 9_200),
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

pub(crate) fn mail(name: &str) -> String {
    format!("{}@walkers.example", name.to_lowercase().replace(' ', "."))
}
