// Identifiers of every style and trap → the class a table so called becomes, and the property a column so called becomes.
import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import type { Relation } from '../catalog/index.ts'
import { infer } from '../infer/index.ts'
import { derive } from '../model/index.ts'

/** One table per row, in the schema s, whose name goes in front where a class would hide one of the language's own: `identifier Class property`. */
const alone = `
crate Crate crate
crates Crate crates
Crate Crate crate
CRATES Crate crates
crate_label CrateLabel crateLabel
crate_labels CrateLabel crateLabels
crateLabels CrateLabel crateLabels
CrateLabels CrateLabel crateLabels
CRATE_LABELS CrateLabel crateLabels
crate-labels CrateLabel crateLabels
crate__labels CrateLabel crateLabels
_crate Crate crate
crate_ Crate crate
HTTPServer HttpServer httpServer
HTTP_servers HttpServer httpServers
parseURLs ParseUrl parseUrls
label2 Label2 label2
labels2 Label2 labels2
label_2 Label2 label2
2nd_label _2ndLabel _2ndLabel
boxes Box boxes
batches Batch batches
dishes Dish dishes
buses Bus buses
lenses Lens lenses
gases Gas gases
canvases Canvas canvases
statuses Status statuses
status Status status
aliases Alias aliases
viruses Virus viruses
axes Axis axes
analyses Analysis analyses
bases Basis bases
criteria Criterion criteria
data Data data
sensor_data SensorData sensorData
media Media media
metadata Metadata metadata
post_meta PostMeta postMeta
news News news
series Series series
species Species species
equipment Equipment equipment
information Information information
people Person people
children Child children
persons Person persons
men Man men
women Woman women
feet Foot feet
mice Mouse mice
geese Goose geese
teeth Tooth teeth
leaves Leaf leaves
shelves Shelf shelves
halves Half halves
knives Knife knives
wolves Wolf wolves
lives Life lives
countries Country countries
categories Category categories
entries Entry entries
companies Company companies
days Day days
keys Key keys
monkeys Monkey monkeys
heroes Hero heroes
potatoes Potato potatoes
photos Photo photos
videos Video videos
movies Movie movies
cookies Cookie cookies
caches Cache caches
houses House houses
horses Horse horses
purchases Purchase purchases
databases Database databases
licenses License licenses
addresses Address addresses
address Address address
processes Process processes
process Process process
classes Class classes
access Access access
accesses Access accesses
indices Index indices
matrices Matrix matrices
vertices Vertex vertices
quizzes Quiz quizzes
quotas Quota quotas
schemas Schema schemas
configs Config configs
infos Info infos
settings Setting settings
staff Staff staff
sms Sms sms
dns Dns dns
gps_tracks GpsTrack gpsTracks
user_ids UserId userIds
a A a
x1 X1 x1
order Order order
group Group group
select Select select
class Class class
default Default default
new New new
delete Delete delete
return Return return
await Await await
object SObject object
function SFunction function
string SString string
numbers SNumber numbers
date SDate date
map SMap map
error SError error
promises SPromise promises
constructor Constructor constructorValue
größe Größe größe
länder Länder länder
пользователь Пользователь пользователь
顧客 顧客 顧客
café_table CaféTable caféTable
naïve_items NaïveItem naïveItems
$rate Rate rate
crate$label CrateLabel crateLabel
crate#label CrateLabel crateLabel
crate.label CrateLabel crateLabel
crate%20label Crate20label crate20label
`
  .trim()
  .split('\n')
  .map((line) => line.split(' ') as [string, string, string])

const modelOf = (...tables: readonly Relation[]) => {
  const c = catalogOf(...tables)
  return derive(c, infer(c).findings, [])
}

describe('an identifier alone', () => {
  it.each(alone)('%s', (identifier, className, property) => {
    const m = modelOf(table(identifier, ['id', identifier], ['id']))
    expect([m.entities[0]?.name, m.entities[0]?.properties[1]?.name]).toEqual([className, property])
  })
})

/** Both ends of a declared reference: `child column parent key own inverse`, a name of several words joined by the underscore it has. */
const ends = `
crate bay_id bay id bay crates
crates bay_id bays id bay crates
crate bayId bay id bay crates
CRATE BAY_ID BAY ID bay crates
crate fk_bay bay id bay crates
crate id_bay bay id_bay bay crates
crate bay_fk bay id bay crates
crate bay bay id bay crates
crate bay_no bay bay_no bay crates
crate bay_code bay code bay crates
crate bayid bay id bay crates
crate bay_uuid bay uuid bay crates
crate old_bay_id bay id oldBay crates
crate owner_id porter id owner crates
crate created_by porter id createdBy cratesCreatedBy
crate created_by_id porter id createdBy cratesCreatedBy
crate approver_no porter no approver crates
crate home bay id home crates
crate parent_id crate id parent children
crate parent crate id parent children
crate parent_crate_id crate id parentCrate childCrates
crate previous_id crate id previous cratesAsPrevious
crate replaces crate id replaces cratesAsReplaces
crate_label crate_id crate id crate labels
crate_labels crate_id crates id crate labels
crate_history crate_id crate id crate histories
crate_data crate_id crate id crate data
box_child box_id boxes id box children
status_person status_id status id status people
crate box_id boxes id box crates
crate status_id statuses id status crates
crate data_id data id data crates
crate category_id categories id category crates
crate person_id people id person crates
parcel_line parcel_id parcel id parcel lines
parcel buyer_id buyers id buyer parcels
crate analysis_id analyses id analysis crates
crate leaf_id leaves id leaf crates
`
  .trim()
  .split('\n')
  .map((line) => line.split(' ') as [string, string, string, string, string, string])

describe('both ends of a reference', () => {
  it.each(ends)('%s.%s → %s.%s: %s, %s', (child, column, parent, key, own, inverse) => {
    const foreignKeys = [reference('f', [column], parent, [key])]
    const self = child === parent
    const tables = self
      ? [table(child, ['id', column], ['id'], { foreignKeys })]
      : [table(parent, [key, 'label'], [key]), table(child, ['nr', column], ['nr'], { foreignKeys })]
    const [r] = modelOf(...tables).relationships.filter((x) => x.state !== 'guessed')
    expect([r?.from.property, r?.to.property]).toEqual([own, inverse])
  })
})
