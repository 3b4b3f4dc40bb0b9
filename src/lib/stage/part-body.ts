/** What a part looks like on the stage, at rest or with the numbers of a pose. */
import {
	Box3,
	Color,
	DoubleSide,
	EdgesGeometry,
	Group,
	LineBasicMaterial,
	LineSegments,
	Matrix4,
	Mesh,
	MeshBasicMaterial,
	MeshLambertMaterial,
	type Plane,
	PlaneGeometry,
	SRGBColorSpace,
	TextureLoader,
	type BufferGeometry,
	type Material,
	type Object3D,
	type Texture,
} from 'three';
import type { Drawing, Part } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { meshOf, strokeColour, strokeMeshOf } from '$core/drawing/mesh';
import type { Mesh as Triangles } from '$core/drawing/triangles';
import {
	crossed,
	FIRST_DETAIL,
	frustum,
	geometryOf,
	hasWidth,
	isFlat,
	labelTexture,
	safely,
} from './body-geometry';
import { setClear } from './materials';
import { modelMesh } from './models';

export interface BodyContext {
	space: Space;
	/** CSS colour that outlines are drawn towards from the part's own. */
	ink: string;
	/** Where a file of the project is fetched. */
	assetPath: (asset: string) => string;
	/** Asks for a new picture: something has been loaded. */
	request: () => void;
	/** Says whether the file that a part is drawn from can be read. */
	told?: (part: string, isRead: boolean) => void;
}

type Drawn = Material & { color?: Color; map?: Texture | null };

/** Kinds with a size that is more than a scale: corners and lines stay as wide as they are. */
const DRAWN_ANEW: ReadonlySet<Drawing['kind']> = new Set(['card', 'ellipse', 'plane']);

const OUTLINE_ANGLE = 28;

/** Share of ink in an outline: a small part of an interface keeps its colour. */
const INK_SHARE: Record<Space, number> = { world: 0.7, interface: 0.22 };

/** A label is not drawn anew for less than this share of its size. */
const SAME_DETAIL = 0.05;

export class PartBody {
	readonly group = new Group();
	/** What is drawn now: the part's drawing, or what a pose makes of it. */
	private shown: Drawing | null = null;
	/** What carries the part's colour. */
	private fill: Drawn | null = null;
	private readonly materials: Drawn[] = [];
	/** Colour, opacity and what has them, as they were set last. */
	private look: readonly unknown[] = [];
	/** What it is cut off by, with its parents. */
	private planes: Plane[] | null = null;
	private gone = false;
	/** A camera and what it sees, shown while it is picked: else it would stand before everything. */
	private sight: Group | null = null;
	private isSightShown = false;
	/** Of a label: pixels of its picture for each of the part's units. */
	private detail = FIRST_DETAIL;
	/** Place in the order in which parts are drawn. */
	private order = 0;
	/** Flat parts of an interface lie on each other in the order of the tree, wherever they are in depth. */
	private readonly isStacked: boolean;

	constructor(
		private readonly part: Part,
		private readonly context: BodyContext,
	) {
		this.isStacked = context.space === 'interface' && isFlat(part.drawing);
		this.show(part.drawing);
	}

	private material<M extends Drawn>(material: M): M {
		material.depthTest = !this.isStacked;
		material.clippingPlanes = this.planes;
		this.materials.push(material);
		return material;
	}

	private mark(): void {
		this.group.traverse((object) => {
			object.userData.part = this.part.id;
			object.renderOrder = this.order;
		});
	}

	/** What comes later is drawn over it. */
	setOrder(order: number): void {
		if (order === this.order) return;
		this.order = order;
		this.mark();
	}

	/** Draws a drawing: the part's own, or one of the same kind with other numbers. */
	show(drawing: Drawing): void {
		if (drawing === this.shown) return;
		const first = this.shown === null;
		this.shown = drawing;
		switch (drawing.kind) {
			case 'label':
			case 'image':
				if (first) this.card(drawing);
				this.resize(drawing.size);
				break;
			case 'model':
				if (first) this.load(drawing.asset, drawing.mesh);
				this.resize(drawing.size);
				this.morph(drawing.weights);
				break;
			case 'camera':
				this.clear();
				this.sight = new Group().add(
					this.solid({ kind: 'box', size: [0.3, 0.24, 0.4], offset: [0, 0, 0.2] }),
					new LineSegments(frustum(drawing.fieldOfView), this.line()),
				);
				this.sight.visible = this.isSightShown;
				this.group.add(this.sight);
				break;
			case 'box':
			case 'ball':
			case 'cylinder':
			case 'cone':
				if (first) this.outlined(drawing);
				this.resize(drawing.size);
				break;
			default:
				this.clear();
				this.outlined(drawing);
		}
		this.mark();
	}

	showSight(shown: boolean): void {
		this.isSightShown = shown;
		if (this.sight) this.sight.visible = shown;
	}

	/** Sizes are taken about the pivot, so that the whole body grows with them. */
	private resize(size: readonly number[], group = this.group): void {
		const own = this.part.drawing;
		if (!('size' in own)) return;
		const [x, y, z] = size.map((length, k) => (own.size[k] > 0 ? length / own.size[k] : 1));
		group.scale.set(x, y, z);
	}

	/** A copy that shows the drawing of another pose, and the geometry that had to be made for it. */
	copyAs(drawing: Drawing): { group: Group; made: BufferGeometry[] } {
		const isScaled = 'size' in drawing && !DRAWN_ANEW.has(drawing.kind);
		if (drawing === this.shown || isScaled) {
			const group = this.group.clone(true);
			if (isScaled) this.resize(drawing.size, group);
			if (drawing.kind === 'model') this.morph(drawing.weights, group);
			return { group, made: [] };
		}
		const other = new PartBody(this.part, this.context);
		other.show(drawing);
		for (const material of other.materials) material.dispose();
		const made: BufferGeometry[] = [];
		other.group.traverse((object) => {
			if (object instanceof Mesh || object instanceof LineSegments) made.push(object.geometry);
		});
		return { group: other.group, made };
	}

	/** A box about what is drawn, in the part's own axes; null where nothing is. */
	box(): Box3 | null {
		const box = new Box3();
		const visit = (object: Object3D, above: Matrix4) => {
			object.updateMatrix();
			const matrix = above.clone().multiply(object.matrix);
			if (object instanceof Mesh || object instanceof LineSegments) {
				const geometry = object.geometry as BufferGeometry;
				geometry.computeBoundingBox();
				box.union(geometry.boundingBox!.clone().applyMatrix4(matrix));
			}
			for (const child of object.children) visit(child, matrix);
		};
		visit(this.group, new Matrix4());
		return box.isEmpty() ? null : box;
	}

	private clear(): void {
		this.disposeGeometry();
		this.group.clear();
	}

	private disposeGeometry(): void {
		this.group.traverse((object) => {
			if (object instanceof Mesh || object instanceof LineSegments) object.geometry.dispose();
		});
	}

	/** Draws a label for the size at which it is seen: pixels for each of the part's units. */
	sharpen(detail: number): void {
		const { drawing } = this.part;
		if (drawing.kind !== 'label' || !this.fill) return;
		if (!(Math.abs(detail / this.detail - 1) > SAME_DETAIL)) return;
		this.detail = detail;
		this.fill.map?.dispose();
		this.fill.map = labelTexture(drawing, detail);
	}

	private line(): LineBasicMaterial {
		const known = this.materials.find((material) => material instanceof LineBasicMaterial);
		return (
			(known as LineBasicMaterial | undefined) ??
			this.material(new LineBasicMaterial({ color: new Color(this.context.ink), transparent: true }))
		);
	}

	private solid(drawing: Drawing): Mesh {
		const triangles = meshOf(drawing, this.context.space)!;
		return new Mesh(geometryOf(triangles), this.filling(triangles));
	}

	/** The material of a body, made once. */
	private filling(triangles: Triangles): Drawn {
		if (this.fill) return this.fill;
		const flat = this.context.space === 'interface';
		const options = {
			color: new Color(this.part.colour),
			side: DoubleSide,
			transparent: true,
			vertexColors: triangles.shades !== undefined,
			// Two sides that show through each other are drawn in two passes, each prepared anew in every picture.
			forceSinglePass: flat,
			// Keeps outlines in front of the faces that they bound.
			polygonOffset: true,
			polygonOffsetFactor: 1,
			polygonOffsetUnits: 1,
		};
		this.fill = this.material(flat ? new MeshBasicMaterial(options) : new MeshLambertMaterial(options));
		return this.fill;
	}

	/** Body with its edges, and the line about it where it has one. */
	private outlined(drawing: Drawing): void {
		const { space } = this.context;
		const triangles = safely(() => meshOf(drawing, space));
		if (triangles) {
			const geometry = geometryOf(triangles);
			this.group.add(new Mesh(geometry, this.filling(triangles)));
			if ((!('stroke' in drawing) || !drawing.stroke) && hasWidth(drawing))
				this.group.add(new LineSegments(new EdgesGeometry(geometry, OUTLINE_ANGLE), this.line()));
		}
		const ribbon = safely(() => strokeMeshOf(drawing, space));
		if (ribbon) this.group.add(new Mesh(geometryOf(ribbon), this.ribbonMaterial()));
	}

	private ribbonMaterial(): Drawn {
		const { drawing } = this.part;
		const hollow = 'filled' in drawing && drawing.filled === false;
		const known = hollow ? this.fill : this.materials.find((material) => material.userData.ribbon === true);
		if (known) return known;
		const made = this.material(
			new MeshBasicMaterial({
				color: new Color(strokeColour(this.part)),
				side: DoubleSide,
				transparent: true,
				forceSinglePass: true,
			}),
		);
		made.userData.ribbon = true;
		// What is hollow has its colour in its line.
		if (hollow) this.fill = made;
		return made;
	}

	private card(drawing: Extract<Drawing, { kind: 'label' | 'image' }>): void {
		const { space, assetPath } = this.context;
		let map: Texture;
		if (drawing.kind === 'label') map = labelTexture(drawing, this.detail);
		else {
			const loaded = () => this.tellRead(true);
			map = new TextureLoader().load(assetPath(drawing.asset), loaded, undefined, () => this.crossOut());
			map.colorSpace = SRGBColorSpace;
		}
		this.fill = this.material(
			new MeshBasicMaterial({
				map,
				color: new Color(this.part.colour),
				transparent: true,
				side: DoubleSide,
				forceSinglePass: true,
				depthWrite: false,
			}),
		);
		const mesh = new Mesh(new PlaneGeometry(drawing.size[0], drawing.size[1]), this.fill);
		mesh.position.fromArray(drawing.offset);
		if (space === 'interface') mesh.scale.y = -1;
		this.group.add(mesh);
	}

	/** The bounds as lines until the model is there, and when it cannot be read. */
	private load(asset: string, mesh: number): void {
		const { drawing } = this.part;
		if (drawing.kind !== 'model') return;
		const bounds = geometryOf(meshOf(drawing, this.context.space)!);
		this.group.add(new LineSegments(new EdgesGeometry(bounds, OUTLINE_ANGLE), this.line()));
		bounds.dispose();
		void modelMesh(this.context.assetPath(asset), mesh)
			.then((model) => {
				if (this.gone) return;
				this.clear();
				model.position.fromArray(drawing.offset);
				model.traverse((object) => {
					if (!(object instanceof Mesh)) return;
					const made = this.material(object.material as Drawn);
					made.userData.own = made.color?.clone();
				});
				this.group.add(model);
				if (this.shown?.kind === 'model') this.morph(this.shown.weights);
				this.mark();
				this.tellRead(true);
			})
			.catch(() => this.crossOut());
	}

	private tellRead(isRead: boolean): void {
		if (!this.gone) this.context.told?.(this.part.id, isRead);
		this.context.request();
	}

	/** Where its file cannot be read its bounds are, crossed out. */
	private crossOut(): void {
		const { drawing } = this.part;
		if (this.gone || !('size' in drawing)) return;
		this.clear();
		this.group.add(new LineSegments(crossed(drawing.size, drawing.offset), this.line()));
		this.mark();
		this.tellRead(false);
	}

	private morph(weights: readonly number[], group = this.group): void {
		group.traverse((object) => {
			if (!(object instanceof Mesh) || !object.morphTargetInfluences) return;
			weights.forEach((weight, i) => (object.morphTargetInfluences![i] = weight));
		});
	}

	/** Colour in sRGB, 0…1, and how opaque it is with all its parents. */
	setLook(red: number, green: number, blue: number, opacity: number): void {
		// Most parts keep theirs while a clip plays; what carries it may have changed.
		const look = [red, green, blue, opacity, this.materials.length, this.fill];
		if (look.every((own, i) => own === this.look[i])) return;
		this.look = look;
		const tint = new Color().setRGB(red, green, blue, SRGBColorSpace);
		this.fill?.color?.copy(tint);
		const outline = new Color(this.context.ink).lerp(tint, 1 - INK_SHARE[this.context.space]);
		for (const material of this.materials) {
			// A model has colours of its own, which the part's tints.
			if (material.userData.own) material.color?.copy(material.userData.own as Color).multiply(tint);
			if (material instanceof LineBasicMaterial) material.color.copy(outline);
			material.opacity = opacity;
			material.depthWrite = opacity > 0.98 && !this.isStacked;
			if (material instanceof MeshLambertMaterial) setClear(material, opacity <= 0.98);
			else if (this.part.drawing.kind === 'model') setClear(material, opacity <= 0.98);
		}
	}

	/** Shows only what lies on the inner side of planes in the world; null shows all. */
	setPlanes(planes: Plane[] | null): void {
		if (planes === null && this.planes === null) return;
		this.planes = planes;
		for (const material of this.materials) material.clippingPlanes = planes;
	}

	dispose(): void {
		this.gone = true;
		// Geometry of a model belongs to its file, which other parts may show too.
		if (this.part.drawing.kind !== 'model') this.disposeGeometry();
		for (const material of this.materials) {
			if (this.part.drawing.kind !== 'model') material.map?.dispose();
			material.dispose();
		}
		this.group.removeFromParent();
	}
}
