"""English synonyms for interface icons: each line is a group of words that people use for the same icon.

`[synonyms]` in the config replaces the words of an entry; an empty list turns it off.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping
from functools import cache

_GROUPS = """
home house main start dashboard
settings gear cog preferences options configuration config configure setup
delete trash bin remove garbage rubbish discard erase dustbin waste
search find magnifier magnify lookup zoom glass loupe
user person profile account member avatar people human
users people group team members community persons crowd
close x cross cancel dismiss exit
add plus new create more insert
minus subtract less remove decrease reduce
mail email envelope message letter inbox post
image photo picture photograph gallery img
camera photo photograph snapshot
video film movie cinema clip recording
play start run begin resume
pause hold break wait
stop halt end square
edit pencil pen write modify change compose draw
save disk floppy store keep
download import get receive save
upload export send publish
share send forward distribute
copy duplicate clone
paste clipboard
cut scissors clip
print printer
undo revert back
redo repeat forward
refresh reload sync update renew repeat rotate
sync synchronize refresh
back previous left return arrow
next forward right continue arrow
up top raise ascend upward
down bottom lower descend downward
menu hamburger list navigation bars lines
list lines bullets items
grid tiles table apps squares
table grid spreadsheet rows columns
filter funnel sieve
sort order arrange rank
check tick done ok yes confirm success approve accept complete
error wrong fail failure alert problem
warning alert caution danger attention exclamation triangle
info information about i details
help question support faq assistance
lock secure locked private password security padlock
unlock open unlocked
key password access login
login signin enter logon
logout signout leave exit logoff
eye view show visible look see watch visibility preview
hide invisible hidden eyeoff
bell notification alarm alert ring reminder
mute silent quiet soundless silence
volume sound audio speaker loudness
microphone mic voice record speech
headphones headset earphones
music song note tune audio melody
phone telephone call mobile contact
mobile smartphone phone cellphone cell device handset
tablet ipad device
computer desktop monitor pc screen
laptop notebook computer
screen monitor display
keyboard keys typing
mouse pointer cursor
printer print
tv television screen
watch clock wristwatch time
clock time hour watch schedule
calendar date day schedule event month planner appointment meeting
timer stopwatch countdown chronometer
history past recent clock
alarm clock alert
hourglass wait loading sand
loading spinner wait busy loader progress
map location place navigation atlas
location pin place marker map position point address
pin tack pushpin location
compass direction navigation north
globe world earth web internet planet international
language translate globe translation
link chain url hyperlink connect
attachment paperclip clip attach
file document page paper doc sheet
folder directory
archive box store storage
book read reading library manual
bookmark save favorite ribbon
library books collection
newspaper news article press
star favorite favourite rating rate bookmark
heart love like favorite favourite
like thumbsup thumb approve up
dislike thumbsdown thumb down
comment chat message speech bubble talk
chat message conversation comment talk bubble speech
message chat comment mail text
quote quotation citation
flag report country mark
tag label price ticket
label tag sticker
ticket coupon pass admission
gift present box reward
cart basket shopping shop buy trolley purchase
shop store market cart retail
bag shopping handbag purse
money cash dollar currency coin pay payment price
coin money cash
card credit payment bank creditcard
wallet money purse payment
bank building finance money institution
receipt bill invoice
invoice bill receipt
chart graph statistics analytics stats diagram report
pie chart graph
trend trending growth graph line increase
calculator calculate math sum
percent discount sale
building office company house
office building briefcase work
briefcase work job business case suitcase portfolio
factory industry plant manufacturing
school education learn graduation study
education graduation cap school learn student degree
hospital medical health clinic
medical health doctor hospital medicine cross
heartbeat pulse health activity
medicine pill drug tablet
syringe injection vaccine needle
ambulance emergency
car auto vehicle automobile drive
bus vehicle transport coach
train rail railway transport metro subway
truck lorry delivery shipping van
bicycle bike cycle
motorcycle motorbike bike
plane airplane flight airport fly aeroplane aircraft
ship boat ferry vessel
boat ship vessel sail
rocket launch startup space
helicopter chopper aircraft
taxi cab
fuel gas petrol pump
parking car p
road street way path
traffic light signal
bed sleep hotel room
hotel bed lodging accommodation
restaurant food dining cutlery fork knife eat meal
food meal restaurant eat
coffee cup cafe drink mug tea
drink glass beverage cup bottle
beer drink pub mug
wine glass drink
pizza food slice
cake birthday dessert
apple fruit food
bread bakery food
fish seafood
meat steak food
egg food
ice cream dessert
bottle drink
sun sunny day light brightness bright weather
moon night dark sleep
cloud weather sky storage
rain weather shower drizzle wet
snow winter snowflake cold
snowflake snow winter cold frost
storm thunder lightning weather
lightning bolt flash thunder power energy
wind air breeze weather
umbrella rain weather insurance
temperature thermometer heat degrees
fire flame hot burn
water drop liquid droplet
drop water liquid
tree nature plant forest
leaf nature plant eco green ecology
flower plant nature blossom
plant leaf nature seedling sprout
mountain hill landscape peak
dog pet animal paw
cat pet animal kitty
pet paw animal dog
bird animal
bug insect error beetle debug
virus germ bacteria
battery power energy charge
charge battery power plug
plug power electricity socket outlet
power onoff switch shutdown energy
bulb light idea lamp
light lamp bulb
idea bulb lightbulb think
flashlight torch light
torch flashlight light
wifi wireless internet network signal
signal network reception strength
bluetooth wireless
network connection nodes internet
server database host
database data storage db
cloud server storage
code programming developer brackets script
terminal console command shell prompt
branch git fork
package box parcel
box package parcel cube
cube box block
layers stack levels
puzzle plugin extension addon piece
tool wrench tools spanner repair fix
wrench tool spanner repair fix
hammer tool build
screwdriver tool
repair fix wrench tool maintenance
paint brush color colour art
brush paint art
palette color colour paint art theme
color colour palette paint
eyedropper picker pipette color
crop cut frame trim
resize scale size
expand fullscreen enlarge maximize grow
collapse shrink minimize reduce
maximize fullscreen expand
minimize shrink collapse
move drag arrows
drag move grip handle
rotate turn spin
flip mirror reflect
zoom magnify enlarge
text type font letter typography
bold strong text
italic slant text
underline text
align justify text
indent tab text
font type text typography
paragraph text
emoji smile face smiley
smile happy face smiley emoji
happy smile face
sad unhappy frown face
angry mad face
laugh smile face
robot bot android ai
ai artificial sparkles magic robot
magic wand sparkles wizard
wand magic
sparkles magic stars shine
game controller gamepad play joystick
gamepad game controller joystick
dice game random
trophy award cup prize winner win
award medal prize badge trophy
medal award badge
badge award medal
crown king premium queen royal
diamond gem jewel premium
target goal aim bullseye
goal target aim
football soccer ball sport
basketball ball sport
ball sport
dumbbell gym fitness weight exercise sport workout
run running sport jog
walk walking pedestrian
swim swimming pool
shield security protection guard defence defense safety
security shield lock safe protection
fingerprint biometric identity touch
scan scanner barcode qr
barcode scan code
qr barcode scan code
id identity card badge
passport travel id
luggage suitcase baggage travel bag
travel luggage plane suitcase trip
tent camping camp
anchor port harbour harbor
glasses spectacles eyeglasses
hat cap
shirt clothes clothing tshirt
shoe footprints footwear
umbrella rain
scissors cut
ruler measure length
measure ruler
scale weight balance justice law
law justice scale legal court gavel
gavel law auction judge
microscope science lab
flask lab science chemistry experiment beaker
science flask atom lab
atom science physics
dna genetics biology
telescope astronomy stars
satellite space
telephone phone call
fax printer
megaphone announcement speaker promote advertise
announcement megaphone news
broadcast radio signal stream live
radio broadcast receiver music
podcast microphone audio
rss feed
hash hashtag pound number
hashtag hash
at email
infinity endless loop
loop repeat cycle
shuffle random mix
random shuffle dice
skip next forward
rewind back
fast forward
eject remove
record circle
circle round dot
square box
triangle shape
door exit entrance
exit door leave logout
enter door login
window browser
browser window web
sidebar panel layout
layout template grid panel
columns layout table
dashboard gauge panel overview
gauge speed meter dashboard speedometer
speed gauge fast speedometer
slider adjust controls
sliders settings adjust filter controls equalizer
toggle switch
switch toggle
checkbox check box
radio button circle
dropdown chevron arrow
chevron arrow caret
arrow direction pointer
cursor pointer arrow mouse
hand pointer touch
touch tap finger hand
wave hand hello
handshake deal agreement partner
baby child kid
child kid baby
man male person
woman female person
male man
female woman
family people group
wheelchair accessibility disabled access
accessibility wheelchair disabled access
ear hearing listen
brain mind think intelligence
tooth dentist dental
bone skeleton
skull death danger poison
ghost halloween
bomb explosive danger
ban block forbidden prohibited no stop
block ban forbidden
forbidden ban block no
spam ban junk
unlink disconnect broken
broken crack
recycle reuse environment
eco leaf green
world globe earth
moon dark theme
contrast theme brightness
brightness sun light
theme palette contrast dark
draft edit file
note sticky memo paper
sticky note memo
clipboard paste tasks checklist
task todo checklist check list
todo task checklist list
checklist tasks todo list
form document fields
signature sign pen
stamp approve
send paper plane airplane submit message
reply answer back respond
forward share next
inbox mail tray
outbox mail send
contact person address phone
contacts addressbook people
address location pin map
invite useradd person
follow useradd person
block userx person
mute volumeoff
subtitles captions
cast screen mirror stream
projector presentation screen
presentation slides screen board
slides presentation
board kanban columns
kanban board columns
roadmap map path route
route path way directions
directions route navigation sign
milestone flag sign
gps location navigation satellite
"""

_LETTERS = re.compile(r"[^\W\d_]+")


@cache
def _groups() -> dict[str, tuple[str, ...]]:
    """Return the other words of every word's groups, in the order of the table."""
    groups: dict[str, dict[str, None]] = {}
    for line in _GROUPS.split("\n"):
        group = line.split()
        for word in group:
            groups.setdefault(word, {}).update(dict.fromkeys(other for other in group if other != word))
    return {word: tuple(others) for word, others in groups.items()}


def with_builtin(configured: Mapping[str, Iterable[str]]) -> dict[str, tuple[str, ...]]:
    """Return the built-in synonyms of every word, replaced by a project's own where it has an entry."""
    return {**_groups(), **{word: tuple(others) for word, others in configured.items()}}


def relevant(synonyms: Mapping[str, tuple[str, ...]], texts: Collection[str]) -> dict[str, tuple[str, ...]]:
    """Return the synonyms that occur in some texts, without others. texts: of icons, in small letters."""
    # each word once: large sets repeat a few hundred words, and digits match no synonym
    words = " ".join({word for text in texts for word in _LETTERS.findall(text)})
    others = {other for others in synonyms.values() for other in others}
    usable = {other for other in others if other in words or not other.isalpha()}
    kept = {word: tuple(other for other in same if other in usable) for word, same in synonyms.items()}
    return {word: same for word, same in kept.items() if same}
