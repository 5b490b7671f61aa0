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

/** Several to a line: plurals that go wrong by rule, capitals, digits, other scripts, words of the language, table marks. */
const more = `
ActiveDirectoryUsers ActiveDirectoryUser activeDirectoryUsers | activeUsers ActiveUser activeUsers | ACTIVE_USERS ActiveUser activeUsers | active-users ActiveUser activeUsers
IDCards IdCard idCards | idCards IdCard idCards | ID_CARD IdCard idCard | XMLHttpRequests XmlHttpRequest xmlHttpRequests
XmlDocuments XmlDocument xmlDocuments | xmlDocument XmlDocument xmlDocument | URLs Url urls | url_list UrlList urlList
APIKeys ApiKey apiKeys | api_keys ApiKey apiKeys | APIKEY Apikey apikey | IPv4Addresses IPv4Address iPv4Addresses
ipv6_addr Ipv6Addr ipv6Addr | ip_addresses IpAddress ipAddresses | OAuthTokens OAuthToken oAuthTokens | oauth2_clients Oauth2Client oauth2Clients
OAuth2Client OAuth2Client oAuth2Client | SHA256Sums Sha256Sum sha256Sums | md5_hash Md5Hash md5Hash | x509_certs X509Cert x509Certs
UTF8Texts Utf8Text utf8Texts | pdf_files PdfFile pdfFiles | PDFFiles PdfFile pdfFiles | gl_accounts GlAccount glAccounts
GLAccount GlAccount glAccount | ACLs Acl acls | acl_entries AclEntry aclEntries | CPUs Cpu cpus
cpu_usages CpuUsage cpuUsages | TVs Tv tvs | DVDs Dvd dvds | VIPs Vip vips
FAQs Faq faqs | faqs Faq faqs | QR_codes QrCode qrCodes | calves Calf calves
thieves Thief thieves | loaves Loaf loaves | scarves Scarf scarves | hooves Hoof hooves
roofs Roof roofs | chiefs Chief chiefs | beliefs Belief beliefs | proofs Proof proofs
cliffs Cliff cliffs | oxen Ox oxen | cacti Cactus cacti | nuclei Nucleus nuclei
syllabi Syllabus syllabi | alumni Alumnus alumni | stimuli Stimulus stimuli | radii Radius radii
foci Focus foci | loci Locus loci | octopuses Octopus octopuses | phenomena Phenomenon phenomena
bacteria Bacterium bacteria | strata Stratum strata | errata Erratum errata | agenda Agenda agenda
agendas Agenda agendas | stadiums Stadium stadiums | forums Forum forums | museums Museum museums
theses Thesis theses | crises Crisis crises | hypotheses Hypothesis hypotheses | parentheses Parenthesis parentheses
synopses Synopsis synopses | ellipses Ellipse ellipses | oases Oasis oases | neuroses Neurosis neuroses
appendices Appendix appendices | codices Codex codices | apices Apex apices | helices Helix helices
matrix Matrix matrix | vertex Vertex vertex | fish Fish fish | sheep Sheep sheep
deer Deer deer | salmon Salmon salmon | aircraft Aircraft aircraft | spacecraft Spacecraft spacecraft
offspring Offspring offspring | moose Moose moose | swine Swine swine | bison Bison bison
money Money money | rice Rice rice | sugar Sugar sugar | software Software software
hardware Hardware hardware | firmware Firmware firmware | furniture Furniture furniture | luggage Luggage luggage
baggage Baggage baggage | feedback Feedback feedback | homework Homework homework | knowledge Knowledge knowledge
research Research research | advice Advice advice | weather Weather weather | traffic Traffic traffic
evidence Evidence evidence | luggage_items LuggageItem luggageItems | feedbacks Feedback feedbacks | gloss Gloss gloss
glosses Gloss glosses | mass Mass mass | masses Mass masses | pass Pass pass
passes Pass passes | pass_keys PassKey passKeys | glass Glass glass | glasses Glass glasses
boss Boss boss | bosses Boss bosses | loss Loss loss | losses Loss losses
cross Cross cross | crosses Cross crosses | stress Stress stress | tax Tax tax
taxes Tax taxes | fax Fax fax | faxes Fax faxes | prefix Prefix prefix
prefixes Prefix prefixes | suffix Suffix suffix | suffixes Suffix suffixes | index Index index
indexes Index indexes | mix Mix mix | fix Fix fix | fixes Fix fixes
church Church church | churches Church churches | switch Switch switch | switches Switch switches
patch Patch patch | patches Patch patches | match Match match | matches Match matches
watch Watch watch | watches Watch watches | stomach Stomach stomach | stomachs Stomach stomachs
echo Echo echo | echoes Echo echoes | veto Veto veto | vetoes Veto vetoes
hero Hero hero | zero Zero zero | zeros Zero zeros | radio Radio radio
radios Radio radios | studio Studio studio | studios Studio studios | piano Piano piano
pianos Piano pianos | memo Memo memo | memos Memo memos | logo Logo logo
logos Logo logos | ratio Ratio ratio | ratios Ratio ratios | toy Toy toy
toys Toy toys | boy Boy boy | alloys Alloy alloys | surveys Survey surveys
valleys Valley valleys | journeys Journey journeys | attorneys Attorney attorneys | turkey Turkey turkey
turkeys Turkey turkeys | policy Policy policy | policies Policy policies | party Party party
parties Party parties | enemy Enemy enemy | query Query query | queries Query queries
story Story story | stories Story stories | storeys Storey storeys | reply Reply reply
replies Reply replies | bus Bus bus | minibuses Minibus minibuses | campus Campus campus
campuses Campus campuses | bonus Bonus bonus | bonuses Bonus bonuses | census Census census
censuses Census censuses | corpus Corpus corpus | corpora Corpus corpora | genus Genus genus
genera Genus genera | virus Virus virus | plus Plus plus | pluses Plus pluses
surplus Surplus surplus | surpluses Surplus surpluses | chorus Chorus chorus | focus Focus focus
focuses Focus focuses | shoe Shoe shoe | shoes Shoe shoes | toe Toe toe
toes Toe toes | oboe Oboe oboe | horse_shoes HorseShoe horseShoes | nurse Nurse nurse
nurses Nurse nurses | verse Verse verse | verses Verse verses | course Course course
courses Course courses | source Source source | sources Source sources | resource Resource resource
resources Resource resources | response Response response | responses Response responses | release Release release
releases Release releases | phase Phase phase | phases Phase phases | base Base base
base_lines BaseLine baseLines | lease Lease lease | leases Lease leases | case Case case
cases Case cases | use_cases UseCase useCases | use Use use | uses Use uses
excuse Excuse excuse | cause Cause cause | causes Cause causes | clause Clause clause
clauses Clause clauses | house House house | warehouse Warehouse warehouse | warehouses Warehouse warehouses
size Size size | sizes Size sizes | prize Prize prize | prizes Prize prizes
maze Maze maze | gauze Gauze gauze | badge Badge badge | badges Badge badges
bridge Bridge bridge | bridges Bridge bridges | stage Stage stage | stages Stage stages
page Page page | pages Page pages | message Message message | messages Message messages
image Image image | images Image images | device Device device | devices Device devices
service Service service | services Service services | invoice Invoice invoice | invoices Invoice invoices
office Office office | offices Office offices | slice Slice slice | slices Slice slices
piece Piece piece | pieces Piece pieces | tie Tie tie | ties Tie ties
pie Pie pie | pies Pie pies | die Die die | dice Die dice
zombie Zombie zombie | zombies Zombie zombies | calorie Calorie calorie | calories Calorie calories
eye Eye eye | eyes Eye eyes | bee-line BeeLine beeLine | cheque Cheque cheque
cheques Cheque cheques | league League league | leagues League leagues | axis Axis axis
pants Pants pants | trousers Trousers trousers | scissors Scissors scissors | goods Goods goods
thanks Thanks thanks | clothes Clothes clothes | premises Premises premises | headquarters Headquarters headquarters
means Means means | series_item SeriesItem seriesItem | species_list SpeciesList speciesList | chassis Chassis chassis
works Work works | gallows Gallows gallows | crossroads Crossroads crossroads | barracks Barracks barracks
sale Sale sale | sales Sale sales | sales_order SalesOrder salesOrder | sales_orders SalesOrder salesOrders
goods_receipts GoodsReceipt goodsReceipts | news_items NewsItem newsItems | customs_forms CustomsForm customsForms | statistics Statistic statistics
statistics_daily StatisticsDaily statisticsDaily | analytics Analytics analytics | mathematics Mathematics mathematics | physics Physics physics
logistics Logistics logistics | economics Economics economics | politics Politics politics | men_at_work MenAtWork menAtWork
passers_by PassersBy passersBy | created_at CreatedAt createdAt | CreatedAt CreatedAt createdAt | updatedOn UpdatedOn updatedOn
last_login_at LastLoginAt lastLoginAt | is_active IsActive isActive | IsActive IsActive isActive | has_error HasError hasError
col1 Col1 col1 | col_1 Col1 col1 | col01 Col01 col01 | field10 Field10 field10
address_line_1 AddressLine1 addressLine1 | addressLine2 AddressLine2 addressLine2 | line3text Line3text line3text | items_v2 ItemsV2 itemsV2
items2 Item2 items2 | 2024_items _2024Item _2024Items | _2024 _2024 _2024 | level0 Level0 level0
a_b_c ABC aBC | ABC Abc abc | AbC AbC abC | aBC ABc aBc
abcDef AbcDef abcDef | ABCDef AbcDef abcDef | ABCdef AbCdef abCdef | A1B2 A1B2 a1B2
a1b2c3 A1b2c3 a1b2c3 | x_ X x | _x_y_ XY xY | naïve Naïve naïve
Ærø_ferries ÆrøFerry ærøFerries | straße_nr StraßeNr straßeNr | 名前 名前 名前 | имя_поля ИмяПоля имяПоля
ключи Ключи ключи | ωμέγα_id ΩμέγαId ωμέγαId | élèves Élèves élèves | señales Señales señales
ação_itens AçãoIten açãoItens | this This this | super Super super | static Static static
enum Enum enum | import Import import | typeof Typeof typeof | void Void void
null Null null | true True true | false False false | undefined Undefined undefined
let Let let | async Async async | yield Yield yield | var Var var
package Package package | interface Interface interface | private Private private | arguments Argument arguments
eval Eval eval | name Name name | length Length length | prototype Prototype prototype
toString ToString toString | valueOf ValueOf valueOf | hasOwnProperty HasOwnProperty hasOwnProperty | __proto__ Proto proto
then Then then | Array SArray array | arrays SArray arrays | Sets SSet sets
set SSet set | weak_maps WeakMap weakMaps | WeakMap WeakMap weakMap | Symbols SSymbol symbols
json Json json | Json Json json | regexp Regexp regexp | Buffers SBuffer buffers
buffer SBuffer buffer | Iterators SIterator iterators | intl SIntl intl | big_ints SBigInt bigInts
event Event event | events Event events | Event Event event | node Node node
nodes Node nodes | element Element element | elements Element elements | file File file
files File files | blob Blob blob | request Request request | headers Header headers
url Url url | t_bays TBay tBays | tbl_crates TblCrate tblCrates | tblCrates TblCrate tblCrates
TBL_CRATE TblCrate tblCrate | v_bays VBay vBays | vw_crates VwCrate vwCrates | sp_list SpList spList
x_crates XCrate xCrates | crate_tbl CrateTbl crateTbl | crates_table CratesTable cratesTable | crates_view CratesView cratesView
crates_ Crate crates | crates_2 Crates2 crates2 | crates_bak CratesBak cratesBak | crates_old CratesOld cratesOld
crates_tmp CratesTmp cratesTmp | crates_archive CratesArchive cratesArchive | crates_history CratesHistory cratesHistory | crates_log CratesLog cratesLog
crates_audit CratesAudit cratesAudit | UserID UserId userId | UserId UserId userId | userID UserId userId
USERID Userid userid | user_Id UserId userId | ItemIDs ItemId itemIds | itemIds ItemId itemIds
nextIDs NextId nextIds | isbn Isbn isbn | isbns Isbn isbns | skus Sku skus
sku_codes SkuCode skuCodes | po_numbers PoNumber poNumbers | vat_rate VatRate vatRate | vat_rates VatRate vatRates
foo--bar FooBar fooBar | foo..bar FooBar fooBar | foo::bar FooBar fooBar | foo/bar FooBar fooBar
foo+bar FooBar fooBar | foo&bar FooBar fooBar | foo,bar FooBar fooBar | foo(bar) FooBar fooBar
foo'bar FooBar fooBar | 50percent _50percent _50percent | percent50 Percent50 percent50
`
  .trim()
  .split(/[\n|]/)
  .map((entry) => entry.trim().split(' ') as [string, string, string])

const modelOf = (...tables: readonly Relation[]) => {
  const c = catalogOf(...tables)
  return derive(c, infer(c).findings, [])
}

describe('an identifier alone', () => {
  it.each([...alone, ...more])('%s', (identifier, className, property) => {
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
